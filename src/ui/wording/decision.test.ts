import { describe, expect, it } from 'vitest';
import type { Decision, Step } from '$core/access/model';
import { buyWords, turnAwayTitle, whyOf, type Names } from './decision';

const names: Names = { fence: (id) => `F-${id}`, plan: (id) => `P-${id}`, when: (at) => `at ${at}` };
const why = (...steps: Step[]) => whyOf({ verdict: 'open', steps, until: null } satisfies Decision, names);

describe('the why in sentences', () => {
	it('names fences, plans and moments, and links to the fence', () => {
		const step: Step = {
			code: 'grant-ended',
			fenceId: 'a',
			planId: 'b',
			grantId: 'g',
			at: 5,
			revoked: false
		};
		expect(why(step)).toEqual([
			{ text: 'The fence “F-a” lets holders of P-b cross, but the grant ran out at 5.', fenceId: 'a' }
		]);
	});

	it('lists several plans as alternatives', () => {
		expect(why({ code: 'no-grant', fenceId: 'a', planIds: ['b', 'c', 'd'] })[0]?.text).toContain(
			'wants P-b, P-c or P-d'
		);
		expect(why({ code: 'no-grant', fenceId: 'a', planIds: [] })[0]?.text).toContain('names none');
	});

	it('has nothing to edit where no fence speaks', () => {
		expect(why({ code: 'base-closed' }, { code: 'draft' }).map((s) => s.fenceId)).toEqual([null, null]);
	});
});

describe('words for those who are turned away', () => {
	it('differ for each standing', () => {
		const titles = (['stranger', 'without-plan', 'lapsed', 'too-early'] as const).map(turnAwayTitle);
		expect(new Set(titles).size).toBe(4);
		expect([buyWords('lapsed'), buyWords('stranger')]).toEqual(['Buy again', 'Buy']);
	});
});
