/**
 * Decisions a second of the core, on one thread: every one of 1,000 members against every one of 1,000 items behind
 * fences that 40 plans cross. The peer, @casl/ability, does the same with abilities that were built beforehand; its
 * answers are compared with ours.
 */
import { createMongoAbility, subject, type MongoAbility } from '@casl/ability';
import { decide } from '../src/core/access/decide/decide';
import {
	NO_LIMITS,
	type Audience,
	type Fence,
	type Grant,
	type Member,
	type PolicySource
} from '../src/core/access/model';
import { compile, EMPTY_SOURCE } from '../src/core/access/policy';
import { report, rounded, seeded } from './lib/report';

const ITEMS = 1000;
const PLANS = 40;
const MEMBERS = 1000;
const NOW = Date.parse('2026-06-01T12:00Z');
const DAY = 86_400_000;

const pick = seeded(1);
const planIds = Array.from({ length: PLANS }, (_, n) => `plan-${n}`);

function audiencesOf(item: number): Audience[] {
	if (item % 50 === 0) return [{ kind: 'anyone' }];
	if (item % 20 === 0) return [{ kind: 'signed-in' }];
	const wanted = new Set(Array.from({ length: 1 + pick(4) }, () => planIds[pick(PLANS)] ?? ''));
	return [{ kind: 'holders', planIds: [...wanted] }];
}

function grantsOf(member: number): Grant[] {
	return Array.from({ length: pick(4) }, (_, n) => {
		const from = NOW - pick(200) * DAY;
		const until = pick(3) === 0 ? null : from + (30 + pick(300)) * DAY;
		return {
			id: `grant-${member}-${n}`,
			planId: planIds[pick(PLANS)] ?? '',
			from,
			until,
			revokedAt: null,
			source: 'order',
			renews: false,
			period: null
		};
	});
}

const audiences = Array.from({ length: ITEMS }, (_, n) => audiencesOf(n));
const fences = audiences.map((own, n): Fence => ({
	id: `fence-${n}`,
	name: '',
	isOn: true,
	mode: 'replaces',
	selector: { kind: 'items', itemIds: [`item-${n}`] },
	crossings: own.map((audience, i) => ({
		id: `crossing-${n}-${i}`,
		audience,
		window: null,
		limits: NO_LIMITS,
		isThroughout: false
	})),
	listing: 'shown',
	turnAway: null,
	createdAt: n
}));
const itemIds = audiences.map((_, n) => `item-${n}`);
const source: PolicySource = {
	...EMPTY_SOURCE,
	resources: itemIds.map((id, n) => ({
		id,
		kind: 'video',
		state: 'published',
		publishAt: null,
		base: 'closed',
		address: `/videos/${n}`,
		homeId: null,
		categoryId: null,
		tagIds: [],
		extension: null
	})),
	fences,
	plans: planIds.map((id) => ({
		id,
		isPublic: true,
		isOnSale: true,
		ladderId: null,
		rung: 0,
		afterLapse: 'on'
	}))
};
const policy = compile(source);
const viewers = Array.from({ length: MEMBERS }, (_, n): Member => ({
	kind: 'member',
	id: `member-${n}`,
	isStaff: false,
	since: 0,
	grants: grantsOf(n),
	tenures: [],
	redemptions: [],
	namings: []
}));

const abilities = viewers.map((viewer): MongoAbility => {
	const held = viewer.grants
		.filter((g) => g.from <= NOW && (g.until === null || NOW < g.until))
		.map((g) => g.planId);
	return createMongoAbility([
		{ action: 'open', subject: 'Item', conditions: { isFree: true } },
		{ action: 'open', subject: 'Item', conditions: { isForSignedIn: true } },
		{ action: 'open', subject: 'Item', conditions: { planIds: { $in: held } } }
	]);
});
const subjects = audiences.map((own) =>
	subject('Item', {
		isFree: own.some((a) => a.kind === 'anyone'),
		isForSignedIn: own.some((a) => a.kind === 'signed-in'),
		planIds: own.flatMap((a) => (a.kind === 'holders' ? a.planIds : []))
	})
);

function ours(): number {
	let open = 0;
	for (const viewer of viewers)
		for (const id of itemIds) if (decide(policy, viewer, id, NOW).verdict === 'open') open++;
	return open;
}

function peers(): number {
	let open = 0;
	for (const ability of abilities) for (const item of subjects) if (ability.can('open', item)) open++;
	return open;
}

function rateOf(work: () => number): number {
	work();
	const began = process.hrtime.bigint();
	work();
	return (ITEMS * MEMBERS) / (Number(process.hrtime.bigint() - began) / 1e9);
}

for (const [m, viewer] of viewers.entries()) {
	for (let n = 0; n < ITEMS; n++) {
		const item = subjects[n];
		const isOpen = decide(policy, viewer, `item-${n}`, NOW).verdict === 'open';
		if (!item || isOpen !== abilities[m]?.can('open', item))
			throw new Error(`The answers differ for member ${m} and item ${n}`);
	}
}
const decisionsPerSecond = rateOf(ours);
const peerDecisionsPerSecond = rateOf(peers);
report('decide', {
	decisionsPerSecond: rounded(decisionsPerSecond),
	peerDecisionsPerSecond: rounded(peerDecisionsPerSecond),
	ratio: rounded(decisionsPerSecond / peerDecisionsPerSecond)
});
