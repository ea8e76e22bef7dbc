/** Facts of access for tests, with what does not matter filled in. */
import { fromPlain } from '$core/text/rich-text';
import {
	NO_LIMITS,
	type AccessPlan,
	type Answer,
	type Audience,
	type Crossing,
	type Fence,
	type Grant,
	type Member,
	type PolicySource,
	type Release,
	type Resource,
	type Selector,
	type TurnAway,
	type Viewer,
	type Window
} from '$core/access/model';
import { EMPTY_SOURCE } from '$core/access/policy';

export const HOUR = 3_600_000;
export const DAY = 24 * HOUR;

export const notice = (text: string): Answer => ({ kind: 'notice', text: fromPlain(text) });
export const turnAway = (answer: Answer, over: Partial<TurnAway> = {}): TurnAway => ({
	answer,
	cases: {},
	teaser: { kind: 'nothing' },
	...over
});

export const resource = (id: string, over: Partial<Resource> = {}): Resource => ({
	id,
	kind: 'video',
	state: 'published',
	publishAt: null,
	base: 'closed',
	address: `/${id}`,
	homeId: null,
	categoryId: null,
	tagIds: [],
	extension: null,
	...over
});

export const crossing = (audience: Audience, over: Partial<Crossing> = {}): Crossing => ({
	id: `crossing-${JSON.stringify(audience)}`,
	audience,
	window: null,
	limits: NO_LIMITS,
	isThroughout: false,
	...over
});

export const holders = (...planIds: string[]): Audience => ({ kind: 'holders', planIds });
export const items = (...itemIds: string[]): Selector => ({ kind: 'items', itemIds });
export const within = (
	collectionId: string,
	over: Partial<Extract<Selector, { kind: 'within' }>> = {}
): Selector => ({
	kind: 'within',
	collectionId,
	withPage: true,
	extensions: [],
	...over
});

export const fence = (
	id: string,
	selector: Selector,
	crossings: Crossing[],
	over: Partial<Fence> = {}
): Fence => ({
	id,
	name: id,
	isOn: true,
	mode: 'replaces',
	selector,
	crossings,
	turnAway: null,
	listing: 'shown',
	createdAt: 0,
	...over
});

export const plan = (id: string, over: Partial<AccessPlan> = {}): AccessPlan => ({
	id,
	isPublic: true,
	isOnSale: true,
	ladderId: null,
	rung: 0,
	afterLapse: 'on',
	...over
});

export const release = (
	planId: string,
	id: string,
	window: Window,
	kind: 'resource' | 'category' = 'resource'
): Release => ({
	id: `release-${planId}-${id}`,
	planId,
	target: { kind, id },
	window
});

export const source = (over: Partial<PolicySource>): PolicySource => ({
	...EMPTY_SOURCE,
	turnAway: turnAway(notice('For members')),
	...over
});

export const grant = (over: Partial<Grant> = {}): Grant => ({
	id: 'grant',
	planId: 'workshop',
	from: 0,
	until: null,
	revokedAt: null,
	source: 'order',
	renews: false,
	period: null,
	...over
});

export const member = (grants: Grant[] = [], over: Partial<Member> = {}): Member => ({
	kind: 'member',
	id: 'wren',
	isStaff: false,
	since: 0,
	grants,
	tenures: [],
	redemptions: [],
	namings: [],
	...over
});

export const stranger: Viewer = { kind: 'stranger', redemptions: [], grants: [] };
export const staff: Viewer = member([], { id: 'ottilie', isStaff: true });

/** `after(2, 'week')`, open without end unless a closing is given. */
export const after = (
	count: number,
	unit: 'day' | 'week' | 'month' | 'year',
	closes: Window['closes'] = { kind: 'never' }
): Window => ({
	opens: { kind: 'after', count, unit },
	closes
});
