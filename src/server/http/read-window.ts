/** Windows and limits as forms send them, read once. Problems are sentences, for the place they came from. */
import { CALENDAR_UNITS, readLocal } from '$core/time/calendar';
import type { Closes, Limits, Opens, SiteLimits, UseLimit, Window } from '$core/access/model';

export type Read<T> = { ok: true; value: T; notes: string[] } | { ok: false; message: string };

/** More than anybody plans for; above it a typing error is likelier. */
const MAX_COUNT = 1200;
const MAX_USES = 100_000;
const MAX_MINUTES = 60 * 24 * 366;

const ok = <T>(value: T, notes: string[] = []): Read<T> => ({ ok: true, value, notes });
const no = <T>(message: string): Read<T> => ({ ok: false, message });

/** `null` for a window that is always open: it then competes with no release. */
export function readWindow(value: unknown, zone: string): Read<Window | null> {
	if (value === null || value === undefined) return ok(null);
	const { opens: rawOpens, closes: rawCloses } = record(value);
	const opens = readEdge(record(rawOpens), 'at-once', zone, 'opens');
	if (!opens.ok) return opens;
	const closes = readEdge(record(rawCloses), 'never', zone, 'closes');
	if (!closes.ok) return closes;
	const window = { opens: opens.value as Opens, closes: closes.value as Closes };
	if (window.opens.kind === 'on' && window.closes.kind === 'on' && window.closes.at <= window.opens.at)
		return no('This window closes before it opens. Choose a later closing.');
	if (window.closes.kind === 'after' && window.closes.count === 0)
		return no('A closing of 0 after the opening would never leave it open. Choose at least 1.');
	if (window.opens.kind === 'at-once' && window.closes.kind === 'never') return ok(null);
	return ok(window, [...opens.notes, ...closes.notes]);
}

function readEdge(
	raw: Record<string, unknown>,
	plain: 'at-once' | 'never',
	zone: string,
	what: 'opens' | 'closes'
): Read<Opens | Closes> {
	switch (raw.kind) {
		case plain:
			return ok({ kind: plain } as Opens | Closes);
		case 'after': {
			const count = wholeNumber(raw.count);
			const unit = CALENDAR_UNITS.find((one) => one === raw.unit);
			if (count === null || !unit)
				return no(`Say after how many days, weeks, months or years it ${what}: a whole number.`);
			if (count < 0)
				return no(`It cannot ${what === 'opens' ? 'open' : 'close'} before it begins: type 0 or more.`);
			if (count > MAX_COUNT) return no(`At most ${MAX_COUNT} ${unit}s.`);
			return ok({ kind: 'after', count, unit });
		}
		case 'on':
			return readDate(raw.local, zone);
		default:
			return no(`Choose when it ${what}.`);
	}
}

/** Says which moment is taken where the clocks of the zone make a time of day special. */
export function readDate(local: unknown, zone: string): Read<{ kind: 'on'; at: number }> {
	const read = typeof local === 'string' ? readLocal(local, zone) : null;
	if (!read?.ok) return no('This is no date of the calendar. Write it like 2026-03-31 18:00.');
	const notes = {
		plain: [],
		skipped: [
			`${local} is skipped in ${zone}, because the clocks go forward: the time one hour later is taken.`
		],
		repeated: [`${local} comes twice in ${zone}, because the clocks go back: the first is taken.`]
	}[read.note];
	return ok({ kind: 'on', at: read.at }, notes);
}

export function readLimits(value: unknown): Read<Limits> {
	const raw = record(value);
	const uses = readUses(raw.uses, true);
	if (!uses.ok) return uses;
	const minutes = readAmount(raw.minutes, 'minutes', true);
	if (!minutes.ok) return minutes;
	const hours = readAmount(raw.hours, 'hours', true);
	if (!hours.ok) return hours;
	return ok({ uses: uses.value, minutes: minutes.value, hours: hours.value });
}

/** The site's own: there is nothing for them to fall back on. */
export function readSiteLimits(value: unknown): Read<SiteLimits> {
	const raw = record(value);
	const uses = readUses(raw.uses, false);
	if (!uses.ok) return uses;
	const minutes = readAmount(raw.minutes, 'minutes', false);
	if (!minutes.ok) return minutes;
	const hours = readAmount(raw.hours, 'hours', false);
	if (!hours.ok) return hours;
	return ok({ uses: uses.value, minutes: minutes.value, hours: hours.value } as SiteLimits);
}

function readUses(value: unknown, maySite: boolean): Read<'site' | 'none' | UseLimit> {
	if (value === 'none' || value === undefined || (value === 'site' && maySite))
		return ok((value ?? 'none') as 'site' | 'none');
	const raw = record(value);
	const count = wholeNumber(raw.count);
	const per = (['period', 'grant'] as const).find((one) => one === raw.per);
	if (count === null || !per) return no('Say how many uses, as a whole number, and per what.');
	if (count < 1 || count > MAX_USES)
		return no(`A limit is between 1 and ${MAX_USES} uses. For none, choose “no limit”.`);
	return ok({ count, per });
}

function readAmount(
	value: unknown,
	unit: 'minutes' | 'hours',
	maySite: boolean
): Read<'site' | 'none' | number> {
	if (value === 'none' || value === undefined || (value === 'site' && maySite))
		return ok((value ?? 'none') as 'site' | 'none');
	const amount = wholeNumber(value);
	if (amount === null || amount < 1 || amount > MAX_MINUTES)
		return no(`Say how many ${unit}, as a whole number of at least 1. For none, choose “no limit”.`);
	return ok(amount);
}

/** A whole number, typed or sent; `null` for anything else. */
export function wholeNumber(value: unknown): number | null {
	if (typeof value === 'number') return Number.isSafeInteger(value) ? value : null;
	if (typeof value !== 'string' || !/^-?\d{1,12}$/.test(value.trim())) return null;
	return Number(value);
}

export function record(value: unknown): Record<string, unknown> {
	return typeof value === 'object' && value !== null && !Array.isArray(value)
		? (value as Record<string, unknown>)
		: {};
}
