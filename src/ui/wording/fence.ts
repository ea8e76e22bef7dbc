/** Fences in plain sentences: what they catch, who may cross, and what looks wrong. */
import type { Idle } from '$core/access/idle-releases';
import type { Audience, Fence, ResourceKind, Selector, Window } from '$core/access/model';
import type { Finding } from '$core/access/inspect';
import { formatMoment } from './time';
import { KIND_WORDS } from './library';

/** Titles and names as the Desk knows them. */
export interface FenceNames {
	resource: (id: string) => string;
	/** The kind of a resource, for "the shelf …". */
	kind: (id: string) => ResourceKind | null;
	plan: (id: string) => string;
	category: (id: string) => string;
	tag: (id: string) => string;
	batch: (id: string) => string;
}

export function selectorWords(selector: Selector, names: FenceNames): string {
	switch (selector.kind) {
		case 'items':
			return someOf(selector.itemIds.map((id) => `“${names.resource(id)}”`));
		case 'within':
			return withinWords(selector, names);
		case 'category':
			return `everything in the category ${names.category(selector.categoryId)}`;
		case 'tag':
			return `everything with the tag ${names.tag(selector.tagId)}`;
		case 'kind':
			return `every ${KIND_WORDS[selector.itemKind].one}`;
		case 'path':
			return selector.path === '/' ? 'the home page' : `the path ${selector.path}`;
		case 'below':
			return selector.path === '/' ? 'every path below the home page' : `every path below ${selector.path}`;
		case 'containing':
			return `every path that contains “${selector.text}”`;
		case 'pattern':
			return `every path that the pattern ${selector.pattern} matches`;
		case 'everything':
			return 'everything but sign-in, plans, checkout and accounts';
		default:
			return selector satisfies never;
	}
}

function withinWords(
	{ collectionId, withPage, extensions }: Extract<Selector, { kind: 'within' }>,
	{ resource, kind }: FenceNames
): string {
	const of = kind(collectionId);
	const named = `the ${of ? KIND_WORDS[of].one : 'collection'} ${resource(collectionId)}`;
	const what =
		extensions.length === 0 ? 'everything' : `every ${extensions.map((e) => e.toUpperCase()).join(' and ')}`;
	const nested = of === 'shelf' ? ' and the shelves in it' : of === 'page' ? ' and the pages below it' : '';
	const place = of === 'page' ? `below ${named}` : of === 'shelf' ? `on ${named}${nested}` : `in ${named}`;
	const page = withPage ? ', its own page too' : '';
	return `${what} ${place}${of === 'page' ? '' : page}${of === 'page' && withPage ? ', that page too' : ''}`;
}

/** What the fence does to what it catches, as a sentence's beginning. */
export function closesWords(fence: Pick<Fence, 'mode' | 'selector'>, names: FenceNames): string {
	const what = selectorWords(fence.selector, names);
	return fence.mode === 'adds' ? `Lets more people into ${what}` : `Closes ${what}`;
}

/** @param named how many members each crossing names, by its id */
export function crossesWords(
	crossings: readonly { id: string; audience: Audience }[],
	names: FenceNames,
	named: ReadonlyMap<string, number>
): string {
	if (crossings.length === 0) return 'nobody may cross';
	return crossings.map(({ id, audience }) => audienceWords(audience, names, named.get(id) ?? 0)).join(', ');
}

/** @param named how many members are named, where it is for named members */
export function audienceWords(audience: Audience, names: FenceNames, named: number): string {
	switch (audience.kind) {
		case 'anyone':
			return 'anyone';
		case 'signed-in':
			return 'everyone signed in';
		case 'holders':
			return `holders of ${audience.planIds.map(names.plan).join(' or ')}`;
		case 'named':
			return named === 1 ? 'one named member' : `${named} named members`;
		case 'code':
			return `holders of a code of ${names.batch(audience.batchId)}`;
		case 'may-open':
			return `whoever may open “${names.resource(audience.resourceId)}”`;
		default:
			return audience satisfies never;
	}
}

const plural = (count: number, unit: string) => `${count} ${unit}${count === 1 ? '' : 's'}`;

export function windowWords({ opens, closes }: Window, zone: string): string {
	const opening =
		opens.kind === 'at-once'
			? 'at once'
			: opens.kind === 'on'
				? `on ${formatMoment(opens.at, zone)}`
				: opens.count === 0
					? 'at once'
					: `after ${plural(opens.count, opens.unit)}`;
	const closing =
		closes.kind === 'never'
			? ''
			: closes.kind === 'on'
				? `, until ${formatMoment(closes.at, zone)}`
				: `, for ${plural(closes.count, closes.unit)}`;
	return opening + closing;
}

/** Why a release counts nowhere. */
export function idleWords(idle: Idle, planName: string): string {
	switch (idle) {
		case 'not-let-in':
			return `No fence lets ${planName} in here, so this release does nothing.`;
		case 'open-anyway':
			return 'Open to anyone as it is, so this release does nothing.';
		case 'passed-over':
			return 'All that is in it has a release of its own, so this one does nothing.';
	}
}

function someOf(words: string[]): string {
	if (words.length === 0) return 'nothing: its items are gone';
	return words.length > 2
		? `${words.slice(0, 2).join(', ')} and ${words.length - 2} more`
		: words.join(' and ');
}

export interface FindingWords {
	text: string;
	href: string | null;
}

export function findingWords(
	finding: Finding,
	names: FenceNames & { fence: (id: string) => string }
): FindingWords {
	const at = (fenceId: string) => `/desk/fences/${fenceId}`;
	switch (finding.code) {
		case 'catches-nothing':
			return { text: `“${names.fence(finding.fenceId)}” catches nothing.`, href: at(finding.fenceId) };
		case 'is-off':
			return { text: `“${names.fence(finding.fenceId)}” is saved but off.`, href: at(finding.fenceId) };
		case 'pattern-unanchored':
			return {
				text: `The pattern of “${names.fence(finding.fenceId)}” does not hold on to the beginning and the end of a path, so it matches in the middle of others too.`,
				href: at(finding.fenceId)
			};
		case 'pattern-catches-many':
			return {
				text: `The pattern of “${names.fence(finding.fenceId)}” catches ${finding.count} items.`,
				href: at(finding.fenceId)
			};
		case 'always-beaten':
			return {
				text: `“${names.fence(finding.fenceId)}” never counts: ${someOf(finding.byIds.map((id) => `“${names.fence(id)}”`))} ${finding.byIds.length === 1 ? 'is' : 'are'} nearer everywhere.`,
				href: at(finding.fenceId)
			};
		case 'path-other-case':
			return {
				text: `“${names.fence(finding.fenceId)}” has the path ${finding.path}; there is ${finding.meant}, in other letters.`,
				href: at(finding.fenceId)
			};
		case 'tags-join':
			return {
				text: `Two tags meet on ${someOf(finding.resourceIds.map((id) => `“${names.resource(id)}”`))}: whoever may cross either fence gets in.`,
				href: at(finding.fenceIds[0] ?? '')
			};
		case 'category-meets-tag':
			return {
				text: `A category and a tag meet on ${someOf(finding.resourceIds.map((id) => `“${names.resource(id)}”`))}: the category counts for more.`,
				href: at(finding.fenceIds[0] ?? '')
			};
		case 'follows-in-a-circle':
			return {
				text: `“${names.fence(finding.fenceId)}” follows itself in a circle, which opens nothing.`,
				href: at(finding.fenceId)
			};
		case 'open-to-anyone':
			return {
				text: `Anyone can open ${someOf(finding.resourceIds.map((id) => `“${names.resource(id)}”`))}.`,
				href: `/desk/library/${finding.resourceIds[0] ?? ''}`
			};
		case 'plan-opens-nothing':
			return {
				text: `The plan ${names.plan(finding.planId)} opens nothing${finding.drafts === 0 ? '' : ` that is published: ${finding.drafts === 1 ? 'a draft waits' : `${finding.drafts} drafts wait`}`}.`,
				href: `/desk/plans/${finding.planId}`
			};
		case 'rung-opens-less':
			return {
				text: `${names.plan(finding.planId)} stands above ${names.plan(finding.lowerPlanId)} and does not open ${someOf(finding.resourceIds.map((id) => `“${names.resource(id)}”`))}.`,
				href: `/desk/plans/${finding.planId}`
			};
		default:
			return finding satisfies never;
	}
}
