import { describe, expect, it } from 'vitest';
import type { Step } from '$core/access/decision';
import { whyOf, type Names } from './decision';

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
