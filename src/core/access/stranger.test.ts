import { describe, expect, it } from 'vitest';
import {
	crossing,
	fence,
	holders,
	items,
	notice,
	plan,
	resource,
	source,
	turnAway
} from '../../../tests/support/access';
import type { Fence, Resource } from './model';
import { compile } from './policy';
import { strangerFinds } from './stranger';

const NOW = Date.parse('2026-07-01T09:00Z');

function at(item: Partial<Resource>, given: Fence['turnAway'] = null, isClosed = true) {
	return strangerFinds(
		compile(
			source({
				resources: [resource('lesson', { base: 'open', ...item })],
				plans: [plan('workshop'), plan('gift', { isPublic: false })],
				fences: isClosed
					? [
							fence('f', items('lesson'), [crossing(holders('workshop')), crossing(holders('gift'))], {
								turnAway: given
							})
						]
					: []
			})
		),
		'lesson',
		NOW
	);
}
describe('a stranger', () => {
	it.each([
		['all of what no fence closes', () => at({}, null, false), { kind: 'open' }],
		['nothing of a draft', () => at({ state: 'draft' }, null, false), { kind: 'draft' }],
		['nothing of what was archived', () => at({ state: 'archived' }, null, false), { kind: 'archived' }],
		[
			'nothing of what comes',
			() => at({ state: 'scheduled', publishAt: NOW + 1 }, null, false),
			{ kind: 'scheduled', at: NOW + 1 }
		],
		['what has come', () => at({ state: 'scheduled', publishAt: NOW }, null, false), { kind: 'open' }],
		[
			'a notice, with the plans that can be bought',
			() => at({}, turnAway(notice('For members.'))),
			{ kind: 'notice', planIds: ['workshop'] }
		],
		[
			'the way elsewhere',
			() => at({}, turnAway({ kind: 'sent', to: '/sign-in' })),
			{ kind: 'sent', to: '/sign-in' }
		],
		['no such page', () => at({}, turnAway({ kind: 'absent' })), { kind: 'absent' }]
	] as const)('finds %s', (_, found, expected) => {
		expect(found()).toEqual(expected);
	});

	it('finds nothing where there is nothing', () => {
		expect(strangerFinds(compile(source({})), 'gone', NOW)).toBeNull();
	});
});
