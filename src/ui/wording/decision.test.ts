import { describe, expect, it, test } from 'vitest';
import type { Step, Verdict } from '$core/access/decision';
import { becauseWords, mendsOf, whyOf, type Names } from './decision';

const names: Names = {
	fence: (id) => `F-${id}`,
	plan: (id) => `P-${id}`,
	resource: (id) => `R-${id}`,
	batch: (id) => `B-${id}`,
	when: (at) => `at ${at}`
};
const why = (...steps: Step[]) => whyOf(steps, names);
const fact = {
	fenceId: 'a',
	crossingId: 'c',
	isThroughout: false,
	by: 'grant',
	planId: 'b',
	grantId: 'g',
	releaseId: null
} as const;

describe('the why in sentences', () => {
	it('names fences, plans and moments, and links to the fence', () => {
		expect(why({ code: 'grant-ended', ...fact, at: 5, isRevoked: false })).toEqual([
			{
				text: 'The fence “F-a” lets holders of P-b cross, but the grant ran out at 5.',
				href: '/desk/fences/a',
				hrefLabel: 'Edit the fence'
			}
		]);
	});

	it('links to the release where a release decides', () => {
		const [said] = why({ code: 'window-later', ...fact, releaseId: 'r', at: 7 });
		expect(said).toMatchObject({
			text: expect.stringContaining('its release opens at 7'),
			href: '/desk/releases?plan=b'
		});
	});

	it('lists several plans as alternatives', () => {
		expect(why({ code: 'no-grant', fenceId: 'a', planIds: ['b', 'c', 'd'] })[0]?.text).toContain(
			'wants P-b, P-c or P-d'
		);
		expect(why({ code: 'no-grant', fenceId: 'a', planIds: [] })[0]?.text).toContain('names none');
	});

	it('says which fence was nearer', () => {
		expect(why({ code: 'fence-beyond', fenceId: 'a', endedBy: 'z', isSealed: true })[0]?.text).toBe(
			'The fence “F-a” was not reached: “F-z” is nearer and seals itself off.'
		);
	});

	it('has nothing to edit where no fence speaks', () => {
		expect(why({ code: 'base-closed' }, { code: 'draft' }).map((s) => s.href)).toEqual([null, null]);
	});
});

describe('the first sentence of a why', () => {
	const own: Names = {
		fence: (id) => id,
		plan: (id) => ({ a: 'Apprentice', j: 'Journeyman', p: 'Patron' })[id] ?? id,
		resource: (id) => id,
		batch: (id) => id,
		when: () => '7 Jul 2026'
	};
	const member = { who: 'this member', whose: 'this member’s' };
	const of = { fenceId: 'Wheel', crossingId: 'c', isThroughout: false };
	const grant = { ...of, by: 'grant' as const, planId: 'a', grantId: 'g', releaseId: null };
	const now = (...ids: string[]) => ids.map((planId) => ({ planId, opensAt: null }));

	test.each<[Verdict, Step, { planId: string; opensAt: number | null }[], string]>([
		[
			'shut',
			{ code: 'grant-ended', at: 1, isRevoked: false, ...grant },
			now('j', 'p'),
			'Shut, because this member’s Apprentice ran out on 7 Jul 2026. Journeyman or Patron would open it.'
		],
		[
			'shut',
			{ code: 'grant-ended', at: 1, isRevoked: true, ...grant },
			[],
			'Shut, because this member’s Apprentice was ended on 7 Jul 2026.'
		],
		[
			'shut',
			{ code: 'no-grant', fenceId: 'Wheel', planIds: ['a', 'j', 'p'] },
			[{ planId: 'j', opensAt: 5 }],
			'Shut, because this member never held Apprentice, Journeyman or Patron. Journeyman would open it on 7 Jul 2026.'
		],
		[
			'open',
			{ code: 'crossed', until: 5, ...grant },
			[],
			'Open, because this member holds Apprentice, until 7 Jul 2026.'
		],
		[
			'opens-later',
			{ code: 'window-later', at: 1, ...grant, releaseId: 'r' },
			[],
			'Opens on 7 Jul 2026, because its release for Apprentice opens then.'
		],
		[
			'over',
			{ code: 'window-over', at: 1, ...of, by: 'anyone' },
			[],
			'Over, because its window for them closed on 7 Jul 2026.'
		],
		[
			'used-up',
			{ code: 'uses-used-up', limit: { count: 3, per: 'grant' }, ...grant },
			[],
			'Used up, because all 3 uses of this grant are used.'
		],
		[
			'shut',
			{ code: 'no-crossing', fenceId: 'Wheel' },
			[],
			'Shut, because the fence “Wheel” lets nobody in.'
		],
		['shut', { code: 'draft' }, [], 'A draft: nobody but staff can open it.'],
		['open', { code: 'base-open' }, [], 'Open to anyone: no fence closes it.'],
		[
			'kept-out',
			{ code: 'kept-out', by: 'country' },
			[],
			'Kept out, because the country that it is asked for from is blocked.'
		]
	])('%s by %j is said', (verdict, step, offers, expected) => {
		expect(becauseWords(verdict, step, offers, member, own)).toBe(expected);
	});

	it('leads to what can be done: a plan to give, a release to move, a limit to lift', () => {
		const place = { memberId: 'wren', itemId: 'film' };
		const labels = (step: Step, offers = now('j')) =>
			mendsOf(step, offers, place, own).map(({ label }) => label);
		expect(labels({ code: 'grant-ended', at: 1, isRevoked: false, ...grant })).toEqual([
			'Give them Journeyman'
		]);
		expect(labels({ code: 'window-later', at: 1, ...grant, releaseId: 'r' }, [])).toEqual([
			'Move the release'
		]);
		expect(labels({ code: 'window-later', at: 1, ...grant }, [])).toEqual(['Move the window']);
		expect(labels({ code: 'uses-used-up', limit: { count: 3, per: 'grant' }, ...grant }, [])).toEqual([
			'Give them more',
			'Lift the limit'
		]);
		expect(labels({ code: 'draft' }, [])).toEqual(['Publish it']);
		expect(labels({ code: 'base-open' }, [])).toEqual([]);
		expect(mendsOf({ code: 'base-open' }, now('j'), { memberId: null, itemId: 'film' }, own)).toEqual([]);
	});

	it('stands before steps of which those that had no part come last', () => {
		const steps: Step[] = [
			{ code: 'fence-off', fenceId: 'Off' },
			{ code: 'fence-replaces', fenceId: 'Wheel' },
			{ code: 'fence-beyond', fenceId: 'Wide', endedBy: 'Wheel', isSealed: false },
			{ code: 'no-crossing', fenceId: 'Wheel' }
		];
		expect(whyOf(steps, own).map(({ href }) => href)).toEqual([
			'/desk/fences/Wheel',
			'/desk/fences/Wheel',
			'/desk/fences/Wide',
			'/desk/fences/Off'
		]);
	});
});
