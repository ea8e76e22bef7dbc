import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { decide } from './decide';
import type { AccessItem, Audience, Fence, Grant, PolicySource, TurnAway, Viewer } from './model';
import { compile } from './policy';

const NOW = Date.parse('2026-03-01T12:00Z');
const HOUR = 3_600_000;
const NOTICE: TurnAway = { kind: 'notice', text: 'Members only' };

const video: AccessItem = {
	id: 'video',
	kind: 'video',
	state: 'published',
	publishAt: null,
	base: 'closed',
	address: '/videos/wheel'
};

function fence(over: Partial<Fence> & { audiences?: Audience[] } = {}): Fence {
	const { audiences = [{ kind: 'holders', planIds: ['workshop'] }], ...rest } = over;
	return {
		id: 'fence',
		name: 'Wheel',
		isOn: true,
		mode: 'replaces',
		selector: { kind: 'items', itemIds: ['video'] },
		crossings: audiences.map((audience, i) => ({ id: `crossing-${i}`, audience })),
		turnAway: null,
		createdAt: 0,
		...rest
	};
}

function policyOf(over: Partial<PolicySource> = {}) {
	return compile({
		items: [video],
		fences: [fence()],
		plans: [
			{ id: 'workshop', isPublic: true, isOnSale: true },
			{ id: 'quiet', isPublic: false, isOnSale: true },
			{ id: 'old', isPublic: true, isOnSale: false }
		],
		defaultTurnAway: NOTICE,
		...over
	});
}

const stranger: Viewer = { kind: 'stranger' };
const member = (...grants: Grant[]): Viewer => ({ kind: 'member', id: 'm', isStaff: false, grants });
const staff: Viewer = { kind: 'member', id: 's', isStaff: true, grants: [] };
const grant = (over: Partial<Grant> = {}): Grant => ({
	id: 'grant',
	planId: 'workshop',
	from: NOW - HOUR,
	until: NOW + HOUR,
	revokedAt: null,
	source: 'order',
	...over
});

describe('a fence with a crossing for a plan', () => {
	const cases: [string, Viewer, number, string, string[], number | null][] = [
		['a stranger is shut out', stranger, NOW, 'shut', ['not-signed-in'], null],
		['a member without a grant is shut out', member(), NOW, 'shut', ['no-grant'], null],
		['another plan does not help', member(grant({ planId: 'quiet' })), NOW, 'shut', ['no-grant'], null],
		[
			'before a grant begins it opens later',
			member(grant()),
			NOW - HOUR - 1,
			'opens-later',
			['grant-not-begun'],
			NOW - HOUR
		],
		['it opens at the exact start', member(grant()), NOW - HOUR, 'open', ['crossed-by-grant'], NOW + HOUR],
		[
			'it is open just before the end',
			member(grant()),
			NOW + HOUR - 1,
			'open',
			['crossed-by-grant'],
			NOW + HOUR
		],
		['it is shut at the exact end', member(grant()), NOW + HOUR, 'shut', ['grant-ended'], null],
		['it is shut after the end', member(grant()), NOW + HOUR + 1, 'shut', ['grant-ended'], null],
		[
			'a grant without an end stays',
			member(grant({ until: null })),
			NOW + 1e12,
			'open',
			['crossed-by-grant'],
			null
		],
		[
			'a revoked grant is shut at that moment',
			member(grant({ revokedAt: NOW })),
			NOW,
			'shut',
			['grant-ended'],
			null
		],
		[
			'and open the instant before',
			member(grant({ revokedAt: NOW })),
			NOW - 1,
			'open',
			['crossed-by-grant'],
			NOW
		],
		[
			'a grant revoked before it began says nothing',
			member(grant({ revokedAt: NOW - 2 * HOUR })),
			NOW,
			'shut',
			['no-grant'],
			null
		],
		['staff cross everywhere', staff, NOW, 'open', ['staff'], null]
	];
	test.each(cases)('%s', (_, viewer, at, verdict, codes, until) => {
		const decision = decide(policyOf(), viewer, 'video', at);
		expect(decision.verdict).toBe(verdict);
		expect(decision.steps.map((s) => s.code)).toEqual(codes);
		expect(decision.until).toBe(until);
	});

	it('says who is turned away, how, and what would open it', () => {
		const all = fence({ audiences: [{ kind: 'holders', planIds: ['workshop', 'quiet', 'old'] }] });
		const of = (viewer: Viewer) => decide(policyOf({ fences: [all] }), viewer, 'video', NOW);
		expect(of(stranger)).toMatchObject({ standing: 'stranger', turnAway: NOTICE, openedBy: ['workshop'] });
		expect(of(member())).toMatchObject({ standing: 'without-plan' });
		expect(of(member(grant({ until: NOW })))).toMatchObject({ standing: 'lapsed' });
		expect(of(member(grant({ from: NOW + 1 })))).toMatchObject({ standing: 'too-early', opensAt: NOW + 1 });
	});

	it('holds to the latest end of several grants', () => {
		const viewer = member(grant(), grant({ id: 'longer', until: NOW + 3 * HOUR }));
		expect(decide(policyOf(), viewer, 'video', NOW)).toMatchObject({
			verdict: 'open',
			until: NOW + 3 * HOUR
		});
	});
});

describe('audiences', () => {
	test.each([
		['anyone', { kind: 'anyone' }, stranger, 'open'],
		['anyone', { kind: 'anyone' }, member(), 'open'],
		['signed in', { kind: 'signed-in' }, stranger, 'shut'],
		['signed in', { kind: 'signed-in' }, member(), 'open'],
		['holders of no plan at all', { kind: 'holders', planIds: [] }, member(grant()), 'shut']
	] as [string, Audience, Viewer, string][])('%s', (_, audience, viewer, verdict) => {
		const policy = policyOf({ fences: [fence({ audiences: [audience] })] });
		expect(decide(policy, viewer, 'video', NOW).verdict).toBe(verdict);
	});
});

describe('gates, bases and fences that meet', () => {
	const decideWith = (over: Partial<AccessItem>, viewer: Viewer, fences = [fence()]) =>
		decide(policyOf({ items: [{ ...video, ...over }], fences }), viewer, 'video', NOW);

	it('lets no crossing pass a gate, and shows strangers nothing there', () => {
		for (const state of ['draft', 'archived'] as const) {
			expect(decideWith({ state }, member(grant()))).toMatchObject({
				verdict: 'shut',
				turnAway: { kind: 'absent' }
			});
		}
		expect(decideWith({ state: 'scheduled', publishAt: NOW + 1 }, member(grant()))).toMatchObject({
			verdict: 'shut',
			until: NOW + 1
		});
		expect(decideWith({ state: 'scheduled', publishAt: NOW }, member(grant())).verdict).toBe('open');
		expect(decideWith({ state: 'draft' }, staff).verdict).toBe('open');
	});

	it('denies what it does not know', () => {
		expect(decide(policyOf(), member(grant()), 'nothing', NOW)).toMatchObject({
			verdict: 'shut',
			turnAway: { kind: 'absent' }
		});
	});

	it('asks the base where no fence replaces', () => {
		const adding = fence({ mode: 'adds' });
		expect(decideWith({ base: 'open' }, stranger, []).verdict).toBe('open');
		expect(decideWith({ base: 'closed' }, member(grant()), []).verdict).toBe('shut');
		expect(decideWith({ base: 'open' }, stranger, [adding]).verdict).toBe('open');
		expect(decideWith({ base: 'closed' }, stranger, [adding]).verdict).toBe('shut');
		expect(decideWith({ base: 'closed' }, member(grant()), [adding]).verdict).toBe('open');
		expect(decideWith({ base: 'open' }, stranger, [fence()]).verdict).toBe('shut');
	});

	it('passes over a fence that is off, and says so', () => {
		const decision = decideWith({}, member(grant()), [fence({ isOn: false })]);
		expect(decision.verdict).toBe('shut');
		expect(decision.steps.map((s) => s.code)).toEqual(['fence-off', 'base-closed']);
	});

	it('joins equals, with the strictest turn-away', () => {
		const hidden = fence({
			id: 'second',
			audiences: [{ kind: 'signed-in' }],
			turnAway: { kind: 'absent' },
			createdAt: 1
		});
		const worded = fence({ turnAway: { kind: 'notice', text: 'first' } });
		expect(decideWith({}, member(), [worded, hidden]).verdict).toBe('open');
		expect(decideWith({}, stranger, [worded, hidden])).toMatchObject({ turnAway: { kind: 'absent' } });
		const later = fence({ id: 'third', turnAway: { kind: 'notice', text: 'later' }, createdAt: 2 });
		expect(decideWith({}, stranger, [later, worded])).toMatchObject({ turnAway: { text: 'first' } });
	});
});

describe('properties', () => {
	const instants = fc.integer({ min: NOW - 5, max: NOW + 5 });
	const grants = fc.array(
		fc.record({
			id: fc.uuid(),
			planId: fc.constantFrom('workshop', 'quiet'),
			from: instants,
			until: fc.option(instants),
			revokedAt: fc.option(instants),
			source: fc.constant('order' as const)
		}),
		{ maxLength: 5 }
	);
	const run = { seed: 20261124, numRuns: 2000 };

	it('never takes access away with another grant', () => {
		fc.assert(
			fc.property(grants, grants, instants, (some, more, at) => {
				const before = decide(policyOf(), member(...some), 'video', at).verdict;
				const after = decide(policyOf(), member(...some, ...more), 'video', at).verdict;
				return before !== 'open' || after === 'open';
			}),
			run
		);
	});

	it('gives the same answer whatever the order of the grants', () => {
		fc.assert(
			fc.property(grants, instants, (some, at) => {
				const there = decide(policyOf(), member(...some), 'video', at);
				const back = decide(policyOf(), member(...[...some].reverse()), 'video', at);
				return there.verdict === back.verdict && there.until === back.until;
			}),
			run
		);
	});

	it('does not change its verdict before `until`', () => {
		fc.assert(
			fc.property(grants, instants, (some, at) => {
				const policy = policyOf();
				const first = decide(policy, member(...some), 'video', at);
				for (let t = at; t < (first.until ?? NOW + 10); t++) {
					expect(decide(policy, member(...some), 'video', t).verdict).toBe(first.verdict);
				}
			}),
			run
		);
	});
});
