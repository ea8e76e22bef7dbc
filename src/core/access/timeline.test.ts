import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
	after,
	crossing,
	DAY,
	fence,
	grant,
	holders,
	items,
	member,
	plan,
	release,
	resource,
	source
} from '../../../tests/support/access';
import {
	aContext,
	aFence,
	aGrant,
	aMember,
	aSource,
	aViewer,
	EPOCH,
	IDS,
	moment
} from '../../../tests/support/arbitrary-access';
import { decide, explain } from './decide/decide';
import {
	NO_CONTEXT,
	NO_LIMITS,
	type Crossing,
	type Member,
	type PolicySource,
	type Resource,
	type Viewer
} from './model';
import { compile } from './policy';
import { changesFor } from './next-changes';
import { assuming, timeline } from './timeline';
import { runs } from '../../../tests/support/runs';

const RUNS = { seed: 20_260_301, numRuns: runs(400) };
const anId = fc.constantFrom(...IDS);
const isOpen = (source: PolicySource, viewer: Parameters<typeof decide>[1], id: string, at: number) =>
	decide(compile(source), viewer, id, at).verdict === 'open';

describe('one member over time', () => {
	const joined = Date.parse('2026-01-01T09:00Z');
	const lesson = resource('lesson');
	const policy = compile(
		source({
			resources: [lesson],
			plans: [plan('workshop')],
			fences: [fence('f', items('lesson'), [crossing(holders('workshop'))])],
			releases: [release('workshop', 'lesson', after(2, 'week'))]
		})
	);
	const ends = Date.parse('2026-02-01T09:00Z');
	const at = (text: string) => Date.parse(text);

	it('waits, opens and shuts', () => {
		const wren = member([grant({ from: joined, until: ends })]);
		expect(timeline(policy, wren, 'lesson', joined, null, 'only-what-is-paid')).toEqual([
			{ start: joined, end: at('2026-01-15T09:00Z'), verdict: 'opens-later' },
			{ start: at('2026-01-15T09:00Z'), end: ends, verdict: 'open' },
			{ start: ends, end: null, verdict: 'shut' }
		]);
	});

	const HELD = member([grant({ from: joined, until: ends })]);
	const verdicts = (over: Partial<PolicySource>, viewer: Viewer = HELD, context = NO_CONTEXT) =>
		timeline(
			compile(source({ ...policy.source, releases: [], ...over })),
			viewer,
			'lesson',
			joined,
			ends,
			'only-what-is-paid',
			context
		).map(({ start, verdict }) => [(start - joined) / DAY, verdict]);
	const gated = (over: Partial<Resource>, viewer?: Viewer) =>
		verdicts({ resources: [{ ...lesson, ...over }] }, viewer);
	const behind = (audience: Crossing['audience'], over: Partial<Crossing> = {}) => ({
		fences: [fence('f', items('lesson'), [crossing(audience, over)])]
	});

	it('has nothing of what is behind a gate, and from its day on of what is published on one', () => {
		const ottilie = member([], { id: 'ottilie', isStaff: true });
		expect(gated({})).toEqual([[0, 'open']]);
		expect(gated({ state: 'draft' })).toEqual([[0, 'shut']]);
		expect(gated({ state: 'archived' })).toEqual([[0, 'shut']]);
		expect(gated({ state: 'scheduled' })).toEqual([[0, 'shut']]);
		expect(gated({ state: 'scheduled', publishAt: joined + 3 * DAY })).toEqual([
			[0, 'shut'],
			[3, 'open']
		]);
		expect(gated({ state: 'published', publishAt: joined + 3 * DAY })).toEqual([[0, 'open']]);
		for (const state of ['draft', 'published', 'archived'] as const)
			expect(gated({ state }, ottilie)).toEqual([[0, 'open']]);
		expect(gated({}, member([], { isStaff: false }))).toEqual([[0, 'shut']]);
		expect(gated({}, { kind: 'stranger', redemptions: [], grants: [] })).toEqual([[0, 'shut']]);
	});

	it('is shut of what is not there, and of what follows it', () => {
		expect(verdicts(behind({ kind: 'may-open', resourceId: 'gone' }))).toEqual([[0, 'shut']]);
		expect(timeline(policy, HELD, 'gone', joined, ends, 'only-what-is-paid')).toEqual([
			{ start: joined, end: ends, verdict: 'shut' }
		]);
	});

	it('counts from the day of each who may cross, by code on devices only where nothing is counted', () => {
		const window = after(2, 'day');
		const since = joined + DAY;
		const waits = (day: number) => [
			[0, 'opens-later'],
			[day, 'open']
		];
		expect(verdicts(behind({ kind: 'signed-in' }, { window }), member([], { since }))).toEqual(waits(3));
		const named = member([], { namings: [{ crossingId: 'line', since }] });
		expect(verdicts(behind({ kind: 'named' }, { id: 'line', window }), named)).toEqual(waits(3));
		expect(verdicts(behind({ kind: 'named' }, { id: 'other', window }), named)).toEqual([[0, 'shut']]);
		const redemptions = [{ batchId: 'fair', at: since }];
		const code = { kind: 'code', batchId: 'fair' } as const;
		const device: Viewer = { kind: 'stranger', redemptions, grants: [] };
		expect(verdicts(behind(code, { window }), device)).toEqual(waits(3));
		expect(verdicts(behind({ ...code, batchId: 'letter' }, { window }), device)).toEqual([[0, 'shut']]);
		const limits = { ...NO_LIMITS, uses: { count: 1, per: 'grant' as const } };
		expect(verdicts(behind(code, { limits }), device)).toEqual([[0, 'shut']]);
		expect(verdicts(behind(code, { limits }), member([], { redemptions }))).toEqual([
			[0, 'opens-later'],
			[1, 'open']
		]);
		expect(verdicts(behind({ kind: 'anyone' }), device)).toEqual([[0, 'open']]);
	});

	it('has nothing of grants that end as they begin, and is used up from the use that was the last', () => {
		expect(verdicts({}, member([grant({ from: joined, until: joined })]))).toEqual([[0, 'shut']]);
		expect(verdicts({}, member([grant({ from: joined, until: joined + 1 })]))).toHaveLength(2);
		expect(
			verdicts({}, member([grant({ from: joined + DAY, until: joined + 9 * DAY, revokedAt: joined })]))
		).toEqual([[0, 'shut']]);
		const limits = { ...NO_LIMITS, uses: { count: 1, per: 'grant' as const } };
		const used = {
			...NO_CONTEXT,
			uses: [{ grantId: 'grant', at: joined + DAY, goesOnUntil: joined + 2 * DAY }]
		};
		expect(verdicts(behind(holders('workshop'), { limits }), HELD, used)).toEqual([
			[0, 'open'],
			[2, 'used-up']
		]);
	});

	it('takes for granted only what renews: the others end', () => {
		const two = member([
			grant({ from: joined, until: joined + DAY }),
			grant({ id: 'g2', planId: 'other', from: joined, until: joined + DAY, renews: true })
		]);
		expect(assuming(two, 'renewals-go-on')).toMatchObject({
			grants: [{ until: joined + DAY }, { until: null }]
		});
		expect(assuming(two, 'renewals-go-on')).toBe(assuming(two, 'renewals-go-on'));
		expect(assuming(two, 'only-what-is-paid')).toBe(two);
		const endless = member([grant({ until: null, renews: true })]);
		expect(assuming(endless, 'renewals-go-on')).toBe(endless);
		const paid = member([grant({ until: ends })]);
		expect(assuming(paid, 'renewals-go-on')).toBe(paid);
		const stranger: Viewer = { kind: 'stranger', redemptions: [], grants: [] };
		expect(assuming(stranger, 'renewals-go-on')).toBe(stranger);
	});

	it('goes on where renewals are taken for granted', () => {
		const wren = member([grant({ from: joined, until: ends, renews: true })]);
		expect(timeline(policy, wren, 'lesson', joined, null, 'renewals-go-on').at(-1)).toEqual({
			start: at('2026-01-15T09:00Z'),
			end: null,
			verdict: 'open'
		});
		expect(changesFor(policy, wren, ['lesson'], joined, null, 'renewals-go-on')).toEqual([
			{ resourceId: 'lesson', at: at('2026-01-15T09:00Z'), from: 'opens-later', to: 'open' }
		]);
	});
});

describe('properties of access', () => {
	it('decides at each instant what the timeline says of it, and nothing changes before `until`', () => {
		fc.assert(
			fc.property(
				aSource,
				aViewer,
				anId,
				aContext,
				fc.array(moment, { minLength: 3, maxLength: 8 }),
				(src, viewer, id, context, moments) => {
					const policy = compile(src);
					const stretches = timeline(policy, viewer, id, EPOCH - 1, null, 'only-what-is-paid', context);
					expect(stretches[0]?.start).toBe(EPOCH - 1);
					for (let n = 1; n < stretches.length; n++) {
						expect(stretches[n]?.start).toBe(stretches[n - 1]?.end);
						expect(stretches[n]?.verdict).not.toBe(stretches[n - 1]?.verdict);
					}
					const edges = stretches
						.flatMap(({ start }) => [start - 1, start, start + 1])
						.filter((at) => at >= EPOCH - 1);
					for (const now of [...moments, ...edges]) {
						const stretch = stretches.find(({ start, end }) => start <= now && (end === null || now < end));
						const decision = decide(policy, viewer, id, now, context);
						expect(decision.verdict).toBe(stretch?.verdict);
						if (decision.until !== null) expect(decision.until).toBeGreaterThan(now);
						const changes = stretch?.end ?? null;
						if (changes !== null) expect(decision.until ?? Infinity).toBeLessThanOrEqual(changes);
					}
				}
			),
			RUNS
		);
	});

	it('explains the decision that it takes', () => {
		fc.assert(
			fc.property(aSource, aViewer, anId, aContext, moment, (src, viewer, id, context, now) => {
				const policy = compile(src);
				const { decision, steps } = explain(policy, viewer, id, now, context);
				expect(decision).toEqual(decide(policy, viewer, id, now, context));
				expect(steps.length).toBeGreaterThan(0);
			}),
			RUNS
		);
	});

	it('never takes access away by another grant, unless it moves the clock', () => {
		fc.assert(
			fc.property(aSource, aMember, aGrant('g4'), anId, moment, (src, viewer, extra, id, now) => {
				// Another grant may end a lapse, and so bring back a clock that stands still or begins anew.
				const plans = src.plans.map((p) => ({ ...p, afterLapse: 'on' as const }));
				// An earlier first day moves a window that closes again.
				const releases = src.releases.filter(({ window }) => window.closes.kind === 'never');
				const fences = src.fences.map((f) => ({
					...f,
					crossings: f.crossings.filter((c) => (c.window?.closes.kind ?? 'never') === 'never')
				}));
				const world = { ...src, plans, releases, fences };
				const more: Member = { ...viewer, grants: [...viewer.grants, extra] };
				if (isOpen(world, viewer, id, now)) expect(isOpen(world, more, id, now)).toBe(true);
			}),
			RUNS
		);
	});

	it('never takes access away by a fence that adds', () => {
		fc.assert(
			fc.property(aSource, aFence('extra'), aViewer, anId, moment, (src, extra, viewer, id, now) => {
				const more = { ...src, fences: [...src.fences, { ...extra, mode: 'adds' as const }] };
				if (isOpen(src, viewer, id, now)) expect(isOpen(more, viewer, id, now)).toBe(true);
			}),
			RUNS
		);
	});

	it('never takes access away by letting a crossing hold throughout', () => {
		fc.assert(
			fc.property(aSource, aViewer, anId, moment, (src, viewer, id, now) => {
				const over = (isThroughout: boolean) => ({
					...src,
					fences: src.fences.map((f) => ({
						...f,
						crossings: f.crossings.map((c) => ({ ...c, isThroughout }))
					}))
				});
				// Where one follows another's rules, the other gains too.
				if (isOpen(over(false), viewer, id, now)) expect(isOpen(over(true), viewer, id, now)).toBe(true);
			}),
			RUNS
		);
	});

	it('takes a fence that is off for one that is not there', () => {
		fc.assert(
			fc.property(aSource, aFence('extra'), aViewer, anId, moment, (src, extra, viewer, id, now) => {
				const off = { ...src, fences: [...src.fences, { ...extra, isOn: false }] };
				expect(decide(compile(off), viewer, id, now)).toEqual(decide(compile(src), viewer, id, now));
			}),
			RUNS
		);
	});

	it('keeps open what is open, by a later lapse, where the clock stands still', () => {
		fc.assert(
			fc.property(
				aSource,
				aMember,
				anId,
				moment,
				fc.integer({ min: 1, max: 20 }),
				(src, viewer, id, now, gap) => {
					const plans = src.plans.map((p) => ({ ...p, afterLapse: 'stand-still' as const, ladderId: null }));
					const world = { ...src, plans };
					const first: Member = {
						...viewer,
						tenures: [],
						grants: viewer.grants.slice(0, 1).map((g) => ({ ...g, until: null, revokedAt: null }))
					};
					const [held] = first.grants;
					if (!held || now < held.from) return;
					// The same member, who lapses at `now` and comes back.
					const lapse = now + 1;
					const back: Member = {
						...first,
						grants: [
							{ ...held, until: lapse },
							{ ...held, id: 'back', from: lapse + gap * 86_400_000 }
						]
					};
					const policy = compile({
						...world,
						releases: world.releases.filter((r) => r.window.closes.kind === 'never')
					});
					const noClosing = policy.source.fences.every((f) =>
						f.crossings.every((c) => c.window === null && c.limits.hours === 'none')
					);
					if (noClosing && decide(policy, first, id, now).verdict === 'open')
						expect(decide(policy, back, id, lapse + gap * 86_400_000).verdict).toBe('open');
				}
			),
			RUNS
		);
	});

	it('does not care in which order fences and grants come', () => {
		fc.assert(
			fc.property(aSource, aMember, anId, moment, (src, viewer, id, now) => {
				const turned = { ...src, fences: [...src.fences].reverse(), releases: [...src.releases].reverse() };
				const other: Member = { ...viewer, grants: [...viewer.grants].reverse() };
				expect(decide(compile(turned), other, id, now, NO_CONTEXT).verdict).toBe(
					decide(compile(src), viewer, id, now).verdict
				);
			}),
			RUNS
		);
	});
});
