import { expect, it } from 'vitest';
import { queueProblem, reasonOf } from './mail-fates';

it.each([
	['connect ECONNREFUSED 127.0.0.1:4125', 'The mail server does not answer.'],
	['getaddrinfo ENOTFOUND mail.host.example', 'The mail server does not answer.'],
	['Invalid login', 'Invalid login.'],
	['The mail server does not take this mail.', 'The mail server does not take this mail.'],
	[null, 'It did not come to an end.']
])('says of %s in the queue what is the matter', (problem, words) => {
	expect(queueProblem(problem)).toBe(words);
});

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
