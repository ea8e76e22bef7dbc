import { expect, it } from 'vitest';
import { reasonOf } from './mail-fates';

it.each([
	['5.1.1', 'there is no such mailbox'],
	['5.1.10', 'the domain takes no mail'],
	['5.1.9', 'something is wrong with the address'],
	['5.2.2', 'the mailbox is full'],
	['4.2.2', 'the mailbox is full'],
	['5.7.26', 'the server there does not let it in, as junk or by a rule of its own'],
	['5.0.0', null],
	['5.9.9', null],
	[null, null]
])('says of the code %s why', (code, words) => {
	expect(reasonOf(code)).toBe(words);
});
