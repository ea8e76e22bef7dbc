import { describe, expect, it } from 'vitest';
import type { StrangerFinds } from '$core/access/stranger';
import { findsWords } from './handing-on';

describe('what a stranger finds, in words', () => {
	it.each([
		[{ kind: 'open' }, /^all of it/],
		[{ kind: 'draft' }, /publish it first/],
		[{ kind: 'archived' }, /archived/],
		[{ kind: 'scheduled', at: Date.parse('2026-07-07T08:00Z') }, /published on 7 Jul 2026.*10:00/],
		[{ kind: 'scheduled', at: null }, /^nothing yet\.$/],
		[{ kind: 'notice', planIds: [] }, /No plan that is on sale/],
		[{ kind: 'notice', planIds: ['a', 'b'] }, /the way to A or B\.$/],
		[{ kind: 'sent', to: '/plans' }, /sent to \/plans\.$/],
		[{ kind: 'absent' }, /no such page/],
		[null, /^nothing\.$/]
	] satisfies [StrangerFinds | null, RegExp][])('of %j', (finds, words) => {
		expect(findsWords(finds, (id) => id.toUpperCase(), 'Europe/Vienna')).toMatch(words);
	});
});
