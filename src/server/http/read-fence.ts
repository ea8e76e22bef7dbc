/** A fence as its editor sends it, read once. Problems are sentences by field. */
import {
	ArrayMaxSize,
	ArrayNotEmpty,
	IsIn,
	IsNotEmpty,
	IsUUID,
	isUUID,
	Matches,
	Max,
	MaxLength,
	Min,
	IsInt,
	ValidateIf,
	ValidateNested
} from 'class-validator';
import { normalisePath } from '$core/access/address';
import {
	FENCE_MODES,
	RESOURCE_KINDS,
	SELECTOR_KINDS,
	STANDINGS,
	type Answer,
	type Audience,
	type FenceMode,
	type ResourceKind,
	type Selector,
	type Standing,
	type Teaser,
	type TurnAway
} from '$core/access/model';
import { hasLoneSurrogate, problemOf, type PatternFault, type PatternProblem } from '$core/access/pattern';
import { isEmptyText, readRichText, type RichText } from '$core/text/rich-text';
import type { CrossingWish, FenceWish } from '../usecases/fences/save-fence';
import type { TurnAwayProblem } from '../usecases/fences/turn-away-problem';
import type { FieldErrors } from './parse';
import { LimitsForm, readWhole, record, wholeNumber, WindowForm, type Read } from './read-window';
import { problemsIn, Says } from './rules';

export type ReadFence = { ok: true; wish: FenceWish; notes: string[] } | { ok: false; errors: FieldErrors };

const MAX_NAME = 120;
const MOST_NAMED = 5000;
const MAX_TEASER_PARAGRAPHS = 50;
const MAX_TEASER_SECONDS = 3600;

const AUDIENCE_KINDS = ['anyone', 'signed-in', 'holders', 'named', 'code', 'may-open'] as const;

/** Looked at only where the form is of this kind. */
const Of = (...kinds: string[]) => ValidateIf((form: { kind: unknown }) => kinds.includes(String(form.kind)));

class SelectorForm {
	@IsIn(SELECTOR_KINDS, { message: 'Choose what the fence catches.' })
	readonly kind: Selector['kind'];
	@Of('items')
	@ArrayNotEmpty({ message: 'Choose at least one item: a fence around nothing closes nothing.' })
	readonly itemIds: string[];
	@Of('within')
	@Matches(/^[a-z0-9]{1,16}$/, { each: true, message: 'Endings are letters and digits, such as pdf.' })
	readonly extensions: string[];
	@Of('within')
	@IsUUID('all', { message: 'Choose the collection or page.' })
	readonly collectionId: string;
	@Of('category')
	@IsUUID('all', { message: 'Choose the category.' })
	readonly categoryId: string;
	@Of('tag')
	@IsUUID('all', { message: 'Choose the tag.' })
	readonly tagId: string;
	@Of('kind')
	@IsIn(RESOURCE_KINDS, { message: 'Choose the kind.' })
	readonly itemKind: ResourceKind;
	@Of('path', 'below')
	@Says<SelectorForm>(({ path }) => pathProblem(path))
	readonly path: string;
	@Of('containing')
	@Says<SelectorForm>(({ text }) => textProblem(text))
	readonly text: string;
	@Of('pattern')
	@Says<SelectorForm>(({ pattern }) => {
		const problem = problemOf(pattern);
		return problem && patternWords(problem);
	})
	readonly pattern: string;
	readonly withPage: boolean;

	constructor(raw: Record<string, unknown>) {
		this.kind = raw.kind as Selector['kind'];
		this.itemIds = ids(raw.itemIds);
		this.extensions = texts(raw.extensions).map((one) => one.toLowerCase().replace(/^\./, ''));
		this.collectionId = text(raw.collectionId);
		this.withPage = raw.withPage === true;
		this.categoryId = text(raw.categoryId);
		this.tagId = text(raw.tagId);
		this.itemKind = raw.itemKind as ResourceKind;
		this.path = text(raw.path).trim();
		this.text = text(raw.text).trim();
		this.pattern = text(raw.pattern);
	}

	value(): Selector {
		const { kind, itemIds, collectionId, withPage, extensions, categoryId, tagId, itemKind } = this;
		switch (kind) {
			case 'items':
				return { kind, itemIds };
			case 'within':
				return { kind, collectionId, withPage, extensions };
			case 'category':
				return { kind, categoryId };
			case 'tag':
				return { kind, tagId };
			case 'kind':
				return { kind, itemKind };
			case 'path':
			case 'below': {
				const normal = normalisePath(this.path);
				return { kind, path: normal.ok ? normal.path : this.path };
			}
			case 'containing':
				return { kind, text: this.text };
			case 'pattern':
				return { kind, pattern: this.pattern };
			case 'everything':
				return { kind };
		}
	}
}

function pathProblem(typed: string): string | null {
	if (/^[a-z]+:\/\//i.test(typed) || /^[\w-]+\.[\w.-]+(?:\/|$)/.test(typed))
		return 'Leave the host away: a path begins with its first slash, such as /courses/clock.';
	const normal = normalisePath(typed);
	if (normal.ok) return null;
	return normal.code === 'no-slash'
		? 'A path begins with a slash, such as /courses/clock.'
		: 'This path cannot be read. Write it as in /courses/clock.';
}

function textProblem(typed: string): string | null {
	if (typed === '') return 'Type the text that the path contains.';
	if (typed.length > 300) return 'At most 300 characters.';
	if (hasLoneSurrogate(typed)) return 'There is half of a character in it. Type the text anew.';
	// Every path contains a slash: what was meant is one of two other things.
	return typed === '/'
		? 'Every path contains “/”. Choose “one path” for the home page, or “everything”.'
		: null;
}

export function readSelector(raw: Record<string, unknown>): Read<Selector> {
	return readWhole(new SelectorForm(raw), (form) => form.value());
}

const FAULT_WORDS: Record<PatternFault, string> = {
	'group-not-closed': 'This group is never closed. Write ) where it ends, or \\( for the sign itself.',
	'group-not-opened': 'This closes a group that none began. Take it out, or write \\) for the sign itself.',
	'class-not-closed':
		'This set of characters is never closed. Write ] where it ends, or \\[ for the sign itself.',
	'class-unknown':
		'There is no such set of characters. Write it from the lower to the higher, such as [a-z].',
	'escape-unknown': 'A backslash before this letter means nothing. Take it out.',
	'nothing-to-repeat':
		'There is nothing before this that could be repeated. Write \\* or \\+ or \\? for the sign itself.',
	'repeated-twice': 'This repeats what is repeated already. One of them is enough.',
	'count-unusable': 'This cannot be counted: from the smaller to the larger number, up to 1000.',
	'name-taken': 'Two groups have this name. Give one of them another.',
	'mark-unknown': 'This begins nothing that is known here. A group without a mark is written ( … ).',
	'backslash-last':
		'A backslash at the end stands before nothing. Take it out, or write \\\\ for the sign itself.',
	'half-character': 'This is half of a character. Type the whole of it.',
	'too-much': 'This pattern is too much to be looked for. Write it shorter.'
};

function patternWords(problem: PatternProblem): string {
	switch (problem.code) {
		case 'empty':
			return 'Type a pattern.';
		case 'too-long':
			return `This pattern has ${problem.length} characters; at most 500 are taken.`;
		case 'not-linear':
			return 'Look-arounds and back references are not taken, because they can take forever. Write it without them.';
		case 'not-readable':
			return FAULT_WORDS[problem.fault];
		default:
			return problem satisfies never;
	}
}

class AudienceForm {
	@IsIn(AUDIENCE_KINDS, { message: 'Choose who may cross.' })
	readonly kind: Audience['kind'];
	@Of('holders')
	@ArrayNotEmpty({ message: 'Choose at least one plan.' })
	readonly planIds: string[];
	@Of('code')
	@IsUUID('all', { message: 'Choose the codes.' })
	readonly batchId: string;
	@Of('may-open')
	@IsUUID('all', { message: 'Choose what they may open.' })
	readonly resourceId: string;

	constructor(raw: Record<string, unknown>) {
		this.kind = raw.kind as Audience['kind'];
		this.planIds = ids(raw.planIds);
		this.batchId = text(raw.batchId);
		this.resourceId = text(raw.resourceId);
	}

	value(): Audience {
		const { kind, planIds, batchId, resourceId } = this;
		switch (kind) {
			case 'holders':
				return { kind, planIds };
			case 'code':
				return { kind, batchId };
			case 'may-open':
				return { kind, resourceId };
			default:
				return { kind };
		}
	}
}

class CrossingForm {
	@ValidateNested()
	readonly audience: AudienceForm;
	@ValidateIf((form: CrossingForm) => form.audience.kind === 'named')
	@ArrayMaxSize(MOST_NAMED, {
		message: `At most ${MOST_NAMED} members by name: give a plan to more, and let its holders cross.`
	})
	@ArrayNotEmpty({ message: 'Name at least one member.' })
	readonly named: NonNullable<CrossingWish['named']>;
	@ValidateIf((form: CrossingForm) => form.window !== null)
	@Says<CrossingForm>(({ window, audience }) => {
		if (window?.hasSteps && audience.kind === 'anyone')
			return 'Nobody’s time can be counted for “anyone”: choose dates, or no window.';
		return window && !window.isAlways && audience.kind === 'may-open'
			? 'This crossing follows the windows of what it names: it has none of its own.'
			: null;
	})
	@ValidateNested()
	readonly window: WindowForm | null;
	@Says<CrossingForm>(({ limits, audience }) =>
		audience.kind === 'code' && limits.isCounting
			? 'Openings are counted by account, and codes open on devices without one, too. Take the limit off, or let the codes give a plan and limit that.'
			: null
	)
	@ValidateNested()
	readonly limits: LimitsForm;
	readonly isThroughout: boolean;

	/** @param now the day of whoever is named just now */
	constructor(raw: Record<string, unknown>, zone: string, now: number) {
		this.audience = new AudienceForm(record(raw.audience));
		this.named = list(raw.named).flatMap((one) =>
			isId(one.memberId)
				? [{ memberId: one.memberId, since: typeof one.since === 'number' ? one.since : now }]
				: []
		);
		this.window = raw.window === null || raw.window === undefined ? null : new WindowForm(raw.window, zone);
		this.limits = new LimitsForm(raw.limits, true);
		this.isThroughout = raw.isThroughout === true;
	}

	value(): CrossingWish {
		const { audience, named, window, limits, isThroughout } = this;
		const crossing = { audience: audience.value(), window: window?.value() ?? null, limits: limits.value() };
		return { ...crossing, isThroughout, ...(audience.kind === 'named' ? { named } : {}) };
	}
}

export const TURN_AWAY_PROBLEMS: Record<TurnAwayProblem, string> = {
	'sent-to-closed':
		'They would be sent to a page that is closed to them too. Choose one that is open to strangers.',
	'sent-in-a-circle':
		'They would be sent in a circle: that page sends them on as well. Choose one that is open to strangers.'
};

class AnswerForm {
	@IsIn(['notice', 'sent', 'absent'], { message: 'Choose what everybody else gets.' })
	readonly kind: Answer['kind'];
	@Of('notice')
	@Says<AnswerForm>(({ text }) => {
		if (!text) return 'This notice cannot be read, or links to what is no web or mail address.';
		return isEmptyText(text) ? 'Write the notice, or choose another way to turn people away.' : null;
	})
	readonly text: RichText | null;
	@Of('sent')
	@IsNotEmpty({ message: 'Write a path of this site that begins with a slash, such as /sign-in.' })
	readonly to: string;

	constructor(raw: Record<string, unknown>) {
		this.kind = raw.kind as Answer['kind'];
		this.text = raw.kind === 'notice' ? readRichText(raw.text) : null;
		const [path = '', query] = text(raw.to).trim().split('?', 2);
		const normal = normalisePath(path);
		this.to = normal.ok ? `${normal.path}${query ? `?${query}` : ''}` : '';
	}

	value(): Answer {
		const { kind, text, to } = this;
		if (kind === 'notice') return { kind, text: text ?? [] };
		return kind === 'sent' ? { kind, to } : { kind };
	}
}

const mostOf = (form: TeaserForm) =>
	form.kind === 'paragraphs' ? MAX_TEASER_PARAGRAPHS : MAX_TEASER_SECONDS;
const HOW_MUCH_SHOWN = {
	message: ({ object }: { object: object }) =>
		`A teaser shows 1 to ${mostOf(object as TeaserForm)} ${(object as TeaserForm).kind}.`
};

class TeaserForm {
	readonly kind: Teaser['kind'];
	@Of('paragraphs', 'seconds')
	@Says<TeaserForm>((form) =>
		(form.count ?? 0) > mostOf(form) ? HOW_MUCH_SHOWN.message({ object: form }) : null
	)
	@Max(MAX_TEASER_SECONDS, HOW_MUCH_SHOWN)
	@Min(1, HOW_MUCH_SHOWN)
	@IsInt(HOW_MUCH_SHOWN)
	readonly count: number | null;

	constructor(raw: Record<string, unknown>) {
		this.kind = raw.kind === 'paragraphs' || raw.kind === 'seconds' ? raw.kind : 'nothing';
		this.count = wholeNumber(raw.count);
	}

	value(): Teaser {
		return this.kind === 'nothing' ? { kind: this.kind } : { kind: this.kind, count: this.count ?? 0 };
	}
}

class TurnAwayForm {
	@ValidateNested()
	readonly answer: AnswerForm;
	@ValidateNested({ each: true })
	readonly cases: Map<string, AnswerForm>;
	@ValidateNested()
	readonly teaser: TeaserForm;

	constructor(raw: Record<string, unknown>) {
		this.answer = new AnswerForm(record(raw.answer));
		const cases = Object.entries(record(raw.cases)).filter(([standing]) =>
			(STANDINGS as readonly string[]).includes(standing)
		);
		this.cases = new Map(cases.map(([standing, answer]) => [standing, new AnswerForm(record(answer))]));
		this.teaser = new TeaserForm(record(raw.teaser));
	}

	value(): TurnAway {
		const cases: TurnAway['cases'] = {};
		for (const [standing, answer] of this.cases) cases[standing as Standing] = answer.value();
		return { answer: this.answer.value(), cases, teaser: this.teaser.value() };
	}
}

/** Problems go to `errors`: those of single cases to fields of their own. */
export function readTurnAway(raw: Record<string, unknown>, errors: FieldErrors): Read<TurnAway> {
	const form = new TurnAwayForm(raw);
	let first: string | null = null;
	for (const [path, message] of problemsIn(form)) {
		const standing = /^cases\.([a-z-]+)/.exec(path)?.[1];
		if (standing) errors[`turnAway-${standing}`] = [message];
		else first ??= message;
	}
	return first === null ? { ok: true, value: form.value(), notes: [] } : { ok: false, message: first };
}

class FenceForm {
	@MaxLength(MAX_NAME, { message: `A name has at most ${MAX_NAME} characters.` })
	@IsNotEmpty({ message: 'Give the fence a name that says what it closes.' })
	readonly name: string;
	@IsIn(FENCE_MODES, { message: 'Choose what the fence does.' })
	readonly mode: FenceMode;
	@ValidateNested()
	readonly selector: SelectorForm;
	@ValidateNested({ each: true })
	readonly crossings: CrossingForm[];
	readonly isOn: boolean;
	readonly listing: FenceWish['listing'];

	constructor(raw: Record<string, unknown>, zone: string, now: number) {
		this.name = text(raw.name).trim();
		this.mode = raw.mode as FenceMode;
		this.selector = new SelectorForm(record(raw.selector));
		this.crossings = list(raw.crossings).map((line) => new CrossingForm(line, zone, now));
		this.isOn = raw.isOn === true;
		this.listing = raw.listing === 'left-out' ? 'left-out' : 'shown';
	}
}

/** Where the editor shows what is wrong at a path of the form. */
function fieldOf(path: string): string {
	const [first = '', n, part] = path.split('.');
	if (first !== 'crossings') return first;
	return part === 'window' || part === 'limits' ? `crossing-${n}-${part}` : `crossing-${n}`;
}

export function readFence(value: unknown, zone: string, now: number): ReadFence {
	const raw = record(value);
	const form = new FenceForm(raw, zone, now);
	const errors: FieldErrors = {};
	for (const [path, message] of problemsIn(form)) errors[fieldOf(path)] ??= [message];
	const turnAway = raw.turnAway === null ? null : readTurnAway(record(raw.turnAway), errors);
	if (turnAway && !turnAway.ok) errors.turnAway = [turnAway.message];
	if (Object.keys(errors).length > 0) return { ok: false, errors };
	const { name, isOn, mode, selector, crossings, listing } = form;
	const wish: FenceWish = {
		name,
		isOn,
		mode,
		selector: selector.value(),
		crossings: crossings.map((one) => one.value()),
		turnAway: turnAway?.ok ? turnAway.value : null,
		listing
	};
	return { ok: true, wish, notes: crossings.flatMap(({ window }) => window?.notes() ?? []) };
}

function isId(value: unknown): value is string {
	return isUUID(value, 'all');
}

function ids(value: unknown): string[] {
	return Array.isArray(value) ? value.filter(isId) : [];
}

function list(value: unknown): Record<string, unknown>[] {
	return Array.isArray(value) ? value.map(record) : [];
}

function text(value: unknown): string {
	return typeof value === 'string' ? value : '';
}

function texts(value: unknown): string[] {
	return Array.isArray(value)
		? value
				.filter((one) => typeof one === 'string')
				.map((one) => one.trim())
				.filter((one) => one !== '')
		: [];
}
