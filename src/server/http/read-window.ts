/** Windows and limits as forms send them, read once. Problems are sentences, for the place they came from. */
import { IsIn, IsInt, Max, Min, ValidateIf, ValidateNested } from 'class-validator';
import { CALENDAR_UNITS, readLocal, type CalendarUnit } from '$core/time/calendar';
import type { Closes, Limits, Opens, SiteLimits, UseLimit, Window } from '$core/access/model';
import { problemsIn, Says } from './rules';

export type Read<T> = { ok: true; value: T; notes: string[] } | { ok: false; message: string };

/** More than anybody plans for; above it a typing error is likelier. */
const MAX_COUNT = 1200;
const MAX_USES = 100_000;
const MAX_MINUTES = 60 * 24 * 366;

const ok = <T>(value: T, notes: string[] = []): Read<T> => ({ ok: true, value, notes });
const no = <T>(message: string): Read<T> => ({ ok: false, message });

/** What a form gives once nothing is wrong with it; else the first that is. */
export function readWhole<F extends object, T>(
	form: F,
	value: (form: F) => T,
	notes: string[] = []
): Read<T> {
	const [first] = problemsIn(form);
	return first ? no(first[1]) : ok(value(form), notes);
}

const isAfter = (edge: EdgeForm) => edge.kind === 'after';
const isOn = (edge: EdgeForm) => edge.kind === 'on';
const HOW_LONG = ({ object }: { object: object }) =>
	`Say after how many days, weeks, months or years it ${(object as EdgeForm).what}: a whole number.`;

/** Where a window begins or ends. */
abstract class EdgeForm {
	abstract readonly what: 'opens' | 'closes';
	abstract readonly kind: unknown;
	@ValidateIf(isAfter)
	@Max(MAX_COUNT, { message: ({ object }) => `At most ${MAX_COUNT} ${String((object as EdgeForm).unit)}s.` })
	@Min(0, {
		message: ({ object }) =>
			`It cannot ${(object as EdgeForm).what === 'opens' ? 'open' : 'close'} before it begins: type 0 or more.`
	})
	@IsInt({ message: HOW_LONG })
	readonly count: number | null;
	@ValidateIf(isAfter)
	@IsIn(CALENDAR_UNITS, { message: HOW_LONG })
	readonly unit: unknown;
	@ValidateIf(isOn)
	@Says<EdgeForm>(({ local, zone }) => {
		const read = readDate(local, zone);
		return read.ok ? null : read.message;
	})
	readonly local: unknown;

	constructor(
		raw: Record<string, unknown>,
		readonly zone: string
	) {
		this.count = wholeNumber(raw.count);
		this.unit = raw.unit;
		this.local = raw.local;
	}

	/** The instant of a date; `null` where it is none. */
	get date(): { at: number; notes: string[] } | null {
		const read = isOn(this) ? readDate(this.local, this.zone) : null;
		return read?.ok ? { at: read.value.at, notes: read.notes } : null;
	}

	protected dated():
		{ kind: 'on'; at: number } | { kind: 'after'; count: number; unit: CalendarUnit } | null {
		if (isOn(this)) return { kind: 'on', at: this.date?.at ?? 0 };
		return isAfter(this) ? { kind: 'after', count: this.count ?? 0, unit: this.unit as CalendarUnit } : null;
	}
}

class OpensForm extends EdgeForm {
	readonly what = 'opens';
	@IsIn(['at-once', 'after', 'on'], { message: 'Choose when it opens.' })
	readonly kind: unknown;

	constructor(raw: Record<string, unknown>, zone: string) {
		super(raw, zone);
		this.kind = raw.kind;
	}

	value(): Opens {
		return this.dated() ?? { kind: 'at-once' };
	}
}

class ClosesForm extends EdgeForm {
	readonly what = 'closes';
	@IsIn(['never', 'after', 'on'], { message: 'Choose when it closes.' })
	readonly kind: unknown;

	constructor(raw: Record<string, unknown>, zone: string) {
		super(raw, zone);
		this.kind = raw.kind;
	}

	value(): Closes {
		return this.dated() ?? { kind: 'never' };
	}
}

export class WindowForm {
	@ValidateNested()
	readonly opens: OpensForm;
	@Says<WindowForm>(({ opens, closes }) => {
		if (closes.kind === 'after' && closes.count === 0)
			return 'A closing of 0 after the opening would never leave it open. Choose at least 1.';
		return opens.date && closes.date && closes.date.at <= opens.date.at
			? 'This window closes before it opens. Choose a later closing.'
			: null;
	})
	@ValidateNested()
	readonly closes: ClosesForm;

	constructor(value: unknown, zone: string) {
		const { opens, closes } = record(value);
		this.opens = new OpensForm(record(opens), zone);
		this.closes = new ClosesForm(record(closes), zone);
	}

	/** Whether it counts from when somebody came. */
	get hasSteps(): boolean {
		return this.opens.kind === 'after' || this.closes.kind === 'after';
	}

	get isAlways(): boolean {
		return this.opens.kind === 'at-once' && this.closes.kind === 'never';
	}

	/** `null` for a window that is always open: it then competes with no release. */
	value(): Window | null {
		return this.isAlways ? null : { opens: this.opens.value(), closes: this.closes.value() };
	}

	notes(): string[] {
		return [this.opens, this.closes].flatMap(({ date }) => date?.notes ?? []);
	}
}

export function readWindow(value: unknown, zone: string): Read<Window | null> {
	if (value === null || value === undefined) return ok(null);
	const form = new WindowForm(value, zone);
	return readWhole(form, () => form.value(), form.notes());
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

const HOW_MANY = 'Say how many uses, as a whole number, and per what.';
const LIMIT = `A limit is between 1 and ${MAX_USES} uses. For none, choose “no limit”.`;

class UsesForm {
	@Max(MAX_USES, { message: LIMIT })
	@Min(1, { message: LIMIT })
	@IsInt({ message: HOW_MANY })
	readonly count: number | null;
	@IsIn(['period', 'grant'], { message: HOW_MANY })
	readonly per: unknown;

	constructor(raw: Record<string, unknown>) {
		this.count = wholeNumber(raw.count);
		this.per = raw.per;
	}

	value(): UseLimit {
		return { count: this.count ?? 0, per: this.per as UseLimit['per'] };
	}
}

const howMuch = (unit: string) => ({
	message: `Say how many ${unit}, as a whole number of at least 1. For none, choose “no limit”.`
});

export class LimitsForm {
	@ValidateIf((form: LimitsForm) => typeof form.uses !== 'string')
	@ValidateNested()
	readonly uses: 'site' | 'none' | UsesForm;
	@ValidateIf((form: LimitsForm) => typeof form.minutes !== 'string')
	@Max(MAX_MINUTES, howMuch('minutes'))
	@Min(1, howMuch('minutes'))
	@IsInt(howMuch('minutes'))
	readonly minutes: 'site' | 'none' | number | null;
	@ValidateIf((form: LimitsForm) => typeof form.hours !== 'string')
	@Max(MAX_MINUTES, howMuch('hours'))
	@Min(1, howMuch('hours'))
	@IsInt(howMuch('hours'))
	readonly hours: 'site' | 'none' | number | null;

	/** @param maySite whether there is a site's limit to fall back on: the site's own limits have none */
	constructor(value: unknown, maySite: boolean) {
		const raw = record(value);
		const named = (one: unknown) =>
			one === undefined || one === 'none' ? 'none' : one === 'site' && maySite ? 'site' : null;
		this.uses = named(raw.uses) ?? new UsesForm(record(raw.uses));
		this.minutes = named(raw.minutes) ?? wholeNumber(raw.minutes);
		this.hours = named(raw.hours) ?? wholeNumber(raw.hours);
	}

	/** Whether openings, or the time since the first, are counted. */
	get isCounting(): boolean {
		return this.uses !== 'none' || this.minutes !== 'none';
	}

	value(): Limits {
		const { uses, minutes, hours } = this;
		return {
			uses: typeof uses === 'string' ? uses : uses.value(),
			minutes: minutes ?? 'none',
			hours: hours ?? 'none'
		};
	}
}

export function readLimits(value: unknown): Read<Limits> {
	return readWhole(new LimitsForm(value, true), (form) => form.value());
}

/** The site's own: there is nothing for them to fall back on. */
export function readSiteLimits(value: unknown): Read<SiteLimits> {
	return readWhole(new LimitsForm(value, false), (form) => form.value() as SiteLimits);
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
