/**
 * The whole of access, on one thread: 10,000 fences (2,000 of them patterns, 19 in 20 of these with a literal to find
 * candidates by) over 10,000 items; decisions and address look-ups with them; timelines of releases; and the rehearsal of
 * a plan change over 100,000 members and 2,000 items, then over ten times the members. The peer decides the same with
 * abilities that were built beforehand.
 */
import { createMongoAbility, subject, type MongoAbility } from '@casl/ability';
import { normalisePath } from '../src/core/access/address';
import { decide } from '../src/core/access/decide/decide';
import {
	NO_LIMITS,
	type Audience,
	type Fence,
	type Member,
	type Release,
	type Resource,
	type Selector,
	type Window
} from '../src/core/access/model';
import { compile, EMPTY_SOURCE, type Policy } from '../src/core/access/policy';
import { groupByStanding, rehearse } from '../src/core/access/rehearse';
import { timeline } from '../src/core/access/timeline';
import { report, rounded, seeded } from './lib/report';

const NOW = Date.parse('2026-06-01T12:00Z');
const DAY = 86_400_000;
const PLANS = 40;
const pick = seeded(2);
const planIds = Array.from({ length: PLANS }, (_, n) => `plan-${n}`);
const plans = planIds.map((id) => ({
	id,
	isPublic: true,
	isOnSale: true,
	ladderId: null,
	rung: 0,
	afterLapse: 'on' as const
}));
const some = (count: number) => [...new Set(Array.from({ length: count }, () => planIds[pick(PLANS)] ?? ''))];
const seconds = (began: bigint) => Number(process.hrtime.bigint() - began) / 1e9;

function resources(count: number): Resource[] {
	return Array.from({ length: count }, (_, n) => ({
		id: `item-${n}`,
		kind: 'video',
		state: 'published',
		publishAt: null,
		base: 'closed',
		address: `/courses/clock-${n % 500}/lesson-${n}`,
		homeId: null,
		categoryId: `category-${n % 100}`,
		tagIds: [`tag-${n % 300}`],
		extension: null
	}));
}

function crossing(audience: Audience, window: Window | null = null): Fence['crossings'][number] {
	return { id: 'c', audience, window, limits: NO_LIMITS, isThroughout: false };
}

function selectorOf(n: number): Selector {
	if (n < 2000) {
		// One in twenty holds on to no literal, and is matched with the others of its kind.
		if (n % 20 === 0) return { kind: 'pattern', pattern: `^/[a-z]+/[a-f]{${1 + (n % 7)}}[0-9]+/x+$` };
		return { kind: 'pattern', pattern: `^/courses/clock-${n % 500}/part-${n}-[0-9]+$` };
	}
	if (n < 3000) return { kind: 'below', path: `/courses/clock-${n % 500}` };
	if (n < 4000) return { kind: 'containing', text: `lesson-${n}x` };
	if (n < 5000) return { kind: 'category', categoryId: `category-${n % 100}` };
	if (n < 6000) return { kind: 'tag', tagId: `tag-${n % 300}` };
	return { kind: 'items', itemIds: [`item-${(n * 7) % 10_000}`] };
}

const fences = Array.from({ length: 10_000 }, (_, n): Fence => ({
	id: `fence-${n}`,
	name: '',
	isOn: true,
	mode: n % 3 === 0 ? 'adds' : 'replaces',
	selector: selectorOf(n),
	crossings: [crossing({ kind: 'holders', planIds: some(1 + pick(3)) })],
	turnAway: null,
	listing: 'shown',
	createdAt: n
}));

function membersOf(count: number): Member[] {
	return Array.from({ length: count }, (_, n) => {
		// People join at any hour of two years; those who joined in the same hour with the same plan stand alike.
		const from = NOW - pick(17_520) * 3_600_000;
		const isLasting = pick(3) > 0;
		const planId = planIds[pick(4) === 0 ? pick(PLANS) : pick(5)] ?? '';
		const until = isLasting ? null : from + (30 + pick(12) * 30) * DAY;
		return {
			kind: 'member',
			id: `member-${n}`,
			isStaff: false,
			since: 0,
			grants: [
				{ id: 'g', planId, from, until, revokedAt: null, source: 'order', renews: false, period: null }
			],
			tenures: [],
			redemptions: [],
			namings: []
		};
	});
}

function compileMs(source: Parameters<typeof compile>[0]): { policy: Policy; ms: number } {
	compile(source);
	const began = process.hrtime.bigint();
	const policy = compile(source);
	policy.passageOf('/warm');
	return { policy, ms: seconds(began) * 1000 };
}

const source = { ...EMPTY_SOURCE, resources: resources(10_000), plans, fences };
const { policy, ms } = compileMs(source);

const viewers = membersOf(300);
const ids = source.resources.slice(0, 3000).map(({ id }) => id);
function decideAll(): number {
	let open = 0;
	for (const viewer of viewers)
		for (const id of ids) if (decide(policy, viewer, id, NOW).verdict === 'open') open++;
	return open;
}

/** What each item's ways come to, for the peer: it has no walk, so it is given the outcome of ours. */
const abilities = viewers.map((viewer): MongoAbility => {
	const held = viewer.grants
		.filter((g) => g.from <= NOW && (g.until === null || NOW < g.until))
		.map((g) => g.planId);
	return createMongoAbility([{ action: 'open', subject: 'Item', conditions: { planIds: { $in: held } } }]);
});
const subjects = ids.map((id) => {
	const resource = policy.resources.get(id);
	const ways = resource ? policy.passage(resource).ways : [];
	return subject('Item', { planIds: ways.flatMap(({ plans: own }) => (own ? [...own.keys()] : [])) });
});
function peers(): number {
	let open = 0;
	for (const ability of abilities) for (const item of subjects) if (ability.can('open', item)) open++;
	return open;
}
if (decideAll() !== peers()) throw new Error('The answers differ');
function rate(work: () => unknown, count: number): number {
	work();
	const began = process.hrtime.bigint();
	work();
	return count / seconds(began);
}
const decisionsPerSecond = rate(decideAll, viewers.length * ids.length);
const peerPerSecond = rate(peers, viewers.length * ids.length);

let run = 0;
function lookUp(make: (n: number) => string, count: number): number {
	const from = run;
	run += count;
	const began = process.hrtime.bigint();
	for (let n = from; n < from + count; n++) {
		const normal = normalisePath(make(n));
		if (normal.ok) policy.passageOf(normal.path);
	}
	return count / seconds(began);
}
const plain = (n: number) => `/courses/clock-${n % 500}/part-${n}`;
lookUp(plain, 30_000);
const addressesPerSecond = lookUp(plain, 60_000);
/** Addresses that the loose patterns must read to the end. */
const worst = (n: number) => `/courses/${'abcdef'.repeat(3)}${n}/${'x'.repeat(40)}`;
lookUp(worst, 5000);
const worstAddressesPerSecond = lookUp(worst, 20_000);

const weekly: Release[] = ids.slice(0, 500).map((id, n) => ({
	id: `release-${n}`,
	planId: planIds[n % 5] ?? '',
	target: { kind: 'resource', id },
	window: {
		opens: { kind: 'after', count: n % 30, unit: 'week' },
		closes: { kind: 'after', count: 2, unit: 'month' }
	}
}));
const released = compile({ ...source, releases: weekly });
const lines = viewers.slice(0, 100);
const timelines = () => {
	for (const viewer of lines)
		for (const id of ids.slice(0, 500))
			timeline(released, viewer, id, NOW - 100 * DAY, NOW + 300 * DAY, 'renewals-go-on');
};
const timelineMicros = 1e6 / rate(timelines, lines.length * 500);

function rehearsal(count: number): { seconds: number; mb: number } {
	const own = resources(2000);
	const fence = (planId: string): Fence => ({
		...fences[0]!,
		id: 'all',
		mode: 'replaces',
		selector: { kind: 'everything' },
		crossings: [crossing({ kind: 'holders', planIds: [planId, 'plan-1', 'plan-2'] })]
	});
	const weeks = own.map((one, n): Release => ({
		id: `r-${n}`,
		planId: 'plan-1',
		target: { kind: 'resource', id: one.id },
		window: { opens: { kind: 'after', count: n % 12, unit: 'week' }, closes: { kind: 'never' } }
	}));
	const base = { ...EMPTY_SOURCE, resources: own, plans, releases: weeks };
	const members = membersOf(count);
	const before = compile({ ...base, fences: [fence('plan-0')] });
	const after = compile({ ...base, fences: [fence('plan-3')] });
	const heap = process.memoryUsage().heapUsed;
	const began = process.hrtime.bigint();
	const result = rehearse({
		before,
		after,
		groups: groupByStanding(members, new Set()),
		from: NOW,
		assume: 'renewals-go-on'
	});
	const took = seconds(began);
	if (result.members['gains-now'] === 0 || result.members['loses-now'] === 0)
		throw new Error('Nothing was found');
	return { seconds: took, mb: (process.memoryUsage().heapUsed - heap) / 1024 ** 2 };
}
rehearsal(5000);
const once = rehearsal(100_000);
const tenfold = rehearsal(1_000_000);

report('access', {
	compileMs: rounded(ms),
	decisionsPerSecond: rounded(decisionsPerSecond),
	addressesPerSecond: rounded(addressesPerSecond),
	worstAddressesPerSecond: rounded(worstAddressesPerSecond),
	timelineMicros: rounded(timelineMicros),
	rehearseSeconds: rounded(once.seconds),
	rehearseMb: rounded(once.mb),
	rehearseTenfoldSeconds: rounded(tenfold.seconds),
	rehearseTenfoldMb: rounded(tenfold.mb),
	peerRatio: rounded(decisionsPerSecond / peerPerSecond)
});
