/** A fence as its editor sends it, read once. Problems are sentences by field. */
import { normalisePath } from '$core/access/address';
import {
	FENCE_MODES,
	RESOURCE_KINDS,
	STANDINGS,
	type Answer,
	type Audience,
	type Selector,
	type Standing,
	type Teaser,
	type TurnAway
} from '$core/access/model';
import { hasLoneSurrogate, problemOf, type PatternProblem } from '$core/access/pattern';
import { isEmptyText, readRichText } from '$core/text/rich-text';
import type { CrossingWish, FenceWish } from '../usecases/fences/save-fence';
import type { TurnAwayProblem } from '../usecases/fences/turn-away-problem';
import type { FieldErrors } from './parse';
import { readLimits, readWindow, record, wholeNumber, type Read } from './read-window';

export type ReadFence = { ok: true; wish: FenceWish; notes: string[] } | { ok: false; errors: FieldErrors };

const MAX_NAME = 120;
const MAX_TEASER_PARAGRAPHS = 50;
const MAX_TEASER_SECONDS = 3600;
const UUID = /^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

export function readFence(value: unknown, zone: string, now: number): ReadFence {
	const raw = record(value);
	const errors: FieldErrors = {};
	const notes: string[] = [];
	const take = <T>(field: string, read: Read<T>): T | null => {
		if (read.ok) {
			notes.push(...read.notes);
			return read.value;
		}
		errors[field] = [read.message];
		return null;
	};
	const name = typeof raw.name === 'string' ? raw.name.trim() : '';
	if (name === '') errors.name = ['Give the fence a name that says what it closes.'];
	if (name.length > MAX_NAME) errors.name = [`A name has at most ${MAX_NAME} characters.`];
	const mode = FENCE_MODES.find((one) => one === raw.mode);
	if (!mode) errors.mode = ['Choose what the fence does.'];
	const selector = take('selector', readSelector(record(raw.selector)));
	const lines = Array.isArray(raw.crossings) ? raw.crossings.map(record) : [];
	const crossings = lines.map((line, n) => ({
		audience: take(`crossing-${n}`, readAudience(record(line.audience))),
		named: take(`crossing-${n}`, readNamed(line, now)),
		window: take(`crossing-${n}-window`, readWindow(line.window, zone)),
		limits: take(`crossing-${n}-limits`, readLimits(line.limits)),
		isThroughout: line.isThroughout === true
	}));
	crossings.forEach(({ audience, window, limits }, n) => {
		const counts = window && (window.opens.kind === 'after' || window.closes.kind === 'after');
		if (counts && audience?.kind === 'anyone')
			errors[`crossing-${n}-window`] = [
				'Nobody’s time can be counted for “anyone”: choose dates, or no window.'
			];
		if (audience?.kind === 'code' && limits && (limits.uses !== 'none' || limits.minutes !== 'none'))
			errors[`crossing-${n}-limits`] = [
				'Openings are counted by account, and codes open on devices without one, too. Take the limit off, or let the codes give a plan and limit that.'
			];
		if (window && audience?.kind === 'may-open')
			errors[`crossing-${n}-window`] = [
				'This crossing follows the windows of what it names: it has none of its own.'
			];
	});
	const turnAway =
		raw.turnAway === null ? null : take('turnAway', readTurnAway(record(raw.turnAway), errors));
	if (Object.keys(errors).length > 0 || !mode || !selector) return { ok: false, errors };
	const wish: FenceWish = {
		name,
		isOn: raw.isOn === true,
		mode,
		selector,
		crossings: crossings as FenceWish['crossings'],
		turnAway,
		listing: raw.listing === 'left-out' ? 'left-out' : 'shown'
	};
	return { ok: true, wish, notes };
}

const ok = <T>(value: T): Read<T> => ({ ok: true, value, notes: [] });
const no = <T>(message: string): Read<T> => ({ ok: false, message });

export function readSelector(raw: Record<string, unknown>): Read<Selector> {
	switch (raw.kind) {
		case 'items': {
			const itemIds = ids(raw.itemIds);
			return itemIds.length > 0
				? ok({ kind: 'items', itemIds })
				: no('Choose at least one item: a fence around nothing closes nothing.');
		}
		case 'within': {
			const extensions = texts(raw.extensions).map((one) => one.toLowerCase().replace(/^\./, ''));
			if (extensions.some((one) => !/^[a-z0-9]{1,16}$/.test(one)))
				return no('Endings are letters and digits, such as pdf.');
			return isId(raw.collectionId)
				? ok({ kind: 'within', collectionId: raw.collectionId, withPage: raw.withPage === true, extensions })
				: no('Choose the collection or page.');
		}
		case 'category':
			return isId(raw.categoryId)
				? ok({ kind: 'category', categoryId: raw.categoryId })
				: no('Choose the category.');
		case 'tag':
			return isId(raw.tagId) ? ok({ kind: 'tag', tagId: raw.tagId }) : no('Choose the tag.');
		case 'kind': {
			const itemKind = RESOURCE_KINDS.find((one) => one === raw.itemKind);
			return itemKind ? ok({ kind: 'kind', itemKind }) : no('Choose the kind.');
		}
		case 'path':
		case 'below':
			return readPath(raw.kind, raw.path);
		case 'containing':
			return readText(raw.text);
		case 'pattern': {
			const pattern = typeof raw.pattern === 'string' ? raw.pattern : '';
			const problem = problemOf(pattern);
			return problem ? no(patternWords(problem)) : ok({ kind: 'pattern', pattern });
		}
		case 'everything':
			return ok({ kind: 'everything' });
		default:
			return no('Choose what the fence catches.');
	}
}

function readPath(kind: 'path' | 'below', value: unknown): Read<Selector> {
	const typed = typeof value === 'string' ? value.trim() : '';
	if (/^[a-z]+:\/\//i.test(typed) || /^[\w-]+\.[\w.-]+(?:\/|$)/.test(typed))
		return no('Leave the host away: a path begins with its first slash, such as /courses/clock.');
	const normal = normalisePath(typed);
	if (!normal.ok)
		return no(
			normal.code === 'no-slash'
				? 'A path begins with a slash, such as /courses/clock.'
				: 'This path cannot be read. Write it as in /courses/clock.'
		);
	return ok({ kind, path: normal.path });
}

function readText(value: unknown): Read<Selector> {
	const text = typeof value === 'string' ? value.trim() : '';
	if (text === '') return no('Type the text that the path contains.');
	if (text.length > 300) return no('At most 300 characters.');
	if (hasLoneSurrogate(text)) return no('There is half of a character in it. Type the text anew.');
	// Every path contains a slash: what was meant is one of two other things.
	if (text === '/')
		return no('Every path contains “/”. Choose “one path” for the home page, or “everything”.');
	return ok({ kind: 'containing', text });
}

export function patternWords(problem: PatternProblem): string {
	switch (problem.code) {
		case 'empty':
			return 'Type a pattern.';
		case 'too-long':
			return `This pattern has ${problem.length} characters; at most 500 are taken.`;
		case 'not-linear':
			return 'Look-arounds and back references are not taken, because they can take forever. Write it without them.';
		case 'not-readable':
			return `This pattern cannot be read: ${problem.detail}.`;
		default:
			return problem satisfies never;
	}
}

/** The members of a crossing for named members; of any other, none. */
function readNamed(line: Record<string, unknown>, now: number): Read<NonNullable<CrossingWish['named']>> {
	if (record(line.audience).kind !== 'named') return ok([]);
	const named = (Array.isArray(line.named) ? line.named : [])
		.map(record)
		.flatMap((one) =>
			isId(one.memberId)
				? [{ memberId: one.memberId, since: typeof one.since === 'number' ? one.since : now }]
				: []
		);
	return named.length > 0 ? ok(named) : no('Name at least one member.');
}

function readAudience(raw: Record<string, unknown>): Read<Audience> {
	switch (raw.kind) {
		case 'anyone':
		case 'signed-in':
		case 'named':
			return ok({ kind: raw.kind });
		case 'holders': {
			const planIds = ids(raw.planIds);
			return planIds.length > 0 ? ok({ kind: 'holders', planIds }) : no('Choose at least one plan.');
		}
		case 'code':
			return isId(raw.batchId) ? ok({ kind: 'code', batchId: raw.batchId }) : no('Choose the codes.');
		case 'may-open':
			return isId(raw.resourceId)
				? ok({ kind: 'may-open', resourceId: raw.resourceId })
				: no('Choose what they may open.');
		default:
			return no('Choose who may cross.');
	}
}

export const TURN_AWAY_PROBLEMS: Record<TurnAwayProblem, string> = {
	'sent-to-closed':
		'They would be sent to a page that is closed to them too. Choose one that is open to strangers.',
	'sent-in-a-circle':
		'They would be sent in a circle: that page sends them on as well. Choose one that is open to strangers.'
};

export function readTurnAway(raw: Record<string, unknown>, errors: FieldErrors): Read<TurnAway> {
	const answer = readAnswer(record(raw.answer));
	if (!answer.ok) return answer;
	const cases: TurnAway['cases'] = {};
	for (const [standing, value] of Object.entries(record(raw.cases))) {
		if (!STANDINGS.includes(standing as Standing)) continue;
		const read = readAnswer(record(value));
		if (read.ok) cases[standing as Standing] = read.value;
		else errors[`turnAway-${standing}`] = [read.message];
	}
	const teaser = readTeaser(record(raw.teaser));
	if (!teaser.ok) return teaser;
	return ok({ answer: answer.value, cases, teaser: teaser.value });
}

function readAnswer(raw: Record<string, unknown>): Read<Answer> {
	switch (raw.kind) {
		case 'notice': {
			const text = readRichText(raw.text);
			if (!text) return no('This notice cannot be read, or links to what is no web or mail address.');
			return isEmptyText(text)
				? no('Write the notice, or choose another way to turn people away.')
				: ok({ kind: 'notice', text });
		}
		case 'sent': {
			const [path = '', query] = (typeof raw.to === 'string' ? raw.to.trim() : '').split('?', 2);
			const normal = normalisePath(path);
			if (!normal.ok) return no('Write a path of this site that begins with a slash, such as /sign-in.');
			return ok({ kind: 'sent', to: query ? `${normal.path}?${query}` : normal.path });
		}
		case 'absent':
			return ok({ kind: 'absent' });
		default:
			return no('Choose what everybody else gets.');
	}
}

function readTeaser(raw: Record<string, unknown>): Read<Teaser> {
	if (raw.kind !== 'paragraphs' && raw.kind !== 'seconds') return ok({ kind: 'nothing' });
	const count = wholeNumber(raw.count);
	const most = raw.kind === 'paragraphs' ? MAX_TEASER_PARAGRAPHS : MAX_TEASER_SECONDS;
	if (count === null || count < 1 || count > most) return no(`A teaser shows 1 to ${most} ${raw.kind}.`);
	return ok({ kind: raw.kind, count });
}

function isId(value: unknown): value is string {
	return typeof value === 'string' && UUID.test(value);
}

function ids(value: unknown): string[] {
	return Array.isArray(value) ? value.filter(isId) : [];
}

function texts(value: unknown): string[] {
	return Array.isArray(value)
		? value
				.filter((one) => typeof one === 'string')
				.map((one) => one.trim())
				.filter((one) => one !== '')
		: [];
}
