import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
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
	resource,
	source,
	staff,
	stranger
} from '../../../tests/support/access';
import { aContext, aSource, aViewer, IDS, moment } from '../../../tests/support/arbitrary-access';
import { decidingStep } from './because';
import { explain, type Explained } from './decide/decide';
import type { Step, Verdict } from './decision';
import { NO_CONTEXT, NO_LIMITS, type Context, type Fence, type PolicySource, type Viewer } from './model';
import { compile } from './policy';

const NOW = Date.parse('2026-03-01T12:00Z');
const deciding = (
	fences: Fence[],
	viewer: Viewer,
	over: Partial<PolicySource> = {},
	context: Context = NO_CONTEXT
) => {
	const policy = compile(
		source({ resources: [resource('film')], plans: [plan('a'), plan('b')], fences, ...over })
	);
	return decidingStep(explain(policy, viewer, 'film', NOW, context));
};
const on = (...crossings: Fence['crossings']) => [fence('f', items('film'), crossings)];
const had = (planId: string, until: number) => grant({ planId, from: NOW - 90 * DAY, until });
const A = crossing(holders('a'), { id: 'a' });
const B = crossing(holders('b'), { id: 'b' });

describe('what decided', () => {
	test.each<[string, Fence[], Viewer, object]>([
		[
			'of two grants that ended, the later',
			on(A, B),
			member([had('a', NOW - 9 * DAY), had('b', NOW - DAY)]),
			{ code: 'grant-ended', planId: 'b' }
		],
		[
			'a grant that ended before a plan that was never held',
			on(A, B),
			member([had('a', NOW - DAY)]),
			{ code: 'grant-ended', planId: 'a' }
		],
		[
			'a plan that was never held before a sign-in',
			on(crossing({ kind: 'signed-in' }), A),
			stranger,
			{ code: 'no-grant' }
		],
		[
			'the crossing that let in, of several',
			on(A, B),
			member([had('a', NOW - DAY), had('b', NOW + DAY)]),
			{ code: 'crossed', planId: 'b' }
		],
		['that nobody is let in', on(), member([]), { code: 'no-crossing' }],
		['that it is closed by itself', [], member([]), { code: 'base-closed' }],
		['that somebody is staff', on(A), staff, { code: 'staff' }],
		[
			'the window that opens first',
			on(
				crossing(holders('a'), { id: 'a', window: after(200, 'day') }),
				crossing(holders('b'), { id: 'b', window: after(100, 'day') })
			),
			member([had('a', NOW + 900 * DAY), had('b', NOW + 900 * DAY)]),
			{ code: 'window-later', planId: 'b' }
		],
		[
			'a window that opens too late',
			on(crossing(holders('a'), { window: after(200, 'day') })),
			member([had('a', NOW + DAY)]),
			{ code: 'window-too-late' }
		]
	])('is %s', (_, fences, viewer, step) => {
		expect(deciding(fences, viewer)).toMatchObject(step);
	});

	it('is the draft, the archive and the day of publishing, whatever the fences say', () => {
		const holder = member([had('a', NOW + DAY)]);
		for (const [state, code] of [
			['draft', 'draft'],
			['archived', 'archived']
		] as const)
			expect(deciding(on(A), holder, { resources: [resource('film', { state })] })).toEqual({ code });
		const resources = [resource('film', { state: 'scheduled', publishAt: NOW + DAY })];
		expect(deciding(on(A), holder, { resources })).toEqual({ code: 'not-published-yet', at: NOW + DAY });
	});

	it('is the limit where uses are used up, and the base where no fence closes it', () => {
		const limited = crossing(holders('a'), {
			id: 'a',
			limits: { ...NO_LIMITS, uses: { count: 1, per: 'grant' } }
		});
		const uses = [{ grantId: 'had', at: NOW - DAY, goesOnUntil: NOW - DAY }];
		const holder = member([{ ...had('a', NOW + DAY), id: 'had' }]);
		const context = { ...NO_CONTEXT, uses };
		expect(deciding(on(limited), holder, {}, context)).toMatchObject({ code: 'uses-used-up', planId: 'a' });
		const open = { resources: [resource('film', { base: 'open' as const })] };
		expect(deciding([], stranger, open)).toEqual({ code: 'base-open' });
	});

	/** An answer with these steps, for whoever looks only at them. */
	const answered = (verdict: Verdict, steps: readonly (Step['code'] | Step)[], over: object = {}) =>
		decidingStep({
			decision: { verdict, ...over },
			steps: steps.map((step) => (typeof step === 'string' ? { code: step } : step))
		} as Explained);

	const GATES = [
		'staff',
		'no-such-resource',
		'draft',
		'archived',
		'not-published-yet',
		'kept-out'
	] as const satisfies Step['code'][];
	const ORDER = [
		'uses-used-up',
		'minutes-used-up',
		'window-later',
		'grant-not-begun',
		'window-over',
		'window-too-late',
		'grant-ended',
		'no-grant',
		'may-not-open',
		'no-code',
		'not-named',
		'not-signed-in',
		'no-crossing',
		'base-closed',
		'fence-replaces',
		'fence-seals'
	] as const satisfies Step['code'][];

	it.each(GATES)('is %s, before all that anybody holds', (gate) => {
		for (const code of ORDER) expect(answered('shut', [code, gate])).toEqual({ code: gate });
	});

	it('is what is nearest to what somebody has, had or could have, in whichever order the steps stand', () => {
		ORDER.forEach((code, n) => {
			for (const further of ORDER.slice(n)) {
				expect(answered('kept-out', [further, code])).toEqual({ code });
				expect(answered('kept-out', [code, further])).toEqual({ code });
			}
		});
	});

	it.each<[Verdict, Step['code'][]]>([
		['used-up', ['uses-used-up', 'minutes-used-up']],
		['opens-later', ['window-later', 'grant-not-begun']],
		['over', ['window-over']],
		['shut', ['window-too-late', 'grant-ended']]
	])('is, where it is %s, what that speaks of, before all else', (verdict, own) => {
		own.forEach((code, n) => {
			for (const other of ORDER.filter((one) => !own.slice(0, n).includes(one)))
				expect(answered(verdict, [other, code])).toEqual({ code });
		});
	});

	it('is the crossing that let in, or the base that is open, and nothing of what else was looked at', () => {
		const crossed = (crossingId: string) => ({ code: 'crossed', crossingId }) as Step;
		const refused = { code: 'no-grant', crossingId: 'b' } as unknown as Step;
		const byCrossing = { allowedBy: { by: 'crossing', crossingId: 'b' } };
		expect(answered('open', [crossed('a'), refused, crossed('b')], byCrossing)).toEqual(crossed('b'));
		expect(answered('open', [crossed('a'), refused], byCrossing)).toBeNull();
		expect(answered('open', [crossed('a'), 'base-open'], { allowedBy: { by: 'base' } })).toEqual({
			code: 'base-open'
		});
	});

	it('is nothing where no step can have decided', () => {
		expect(answered('shut', ['fence-adds' as Step['code']])).toBeNull();
		expect(answered('kept-out', [])).toBeNull();
	});

	it('is one of the steps, for every answer in any world', () => {
		fc.assert(
			fc.property(aSource, aViewer, aContext, moment, (of, viewer, context, now) => {
				const policy = compile(of);
				for (const id of IDS) {
					const explained = explain(policy, viewer, id, now, context);
					expect(explained.steps).toContainEqual(decidingStep(explained));
				}
			})
		);
	});
});
