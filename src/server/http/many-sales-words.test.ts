import { describe, expect, test } from 'vitest';
import { doneWords, foretoldWords } from './many-sales-words';

const NOTHING = { digest: '', sums: [], left: [], byHand: 0, plans: [] };
const EUR = { currency: 'EUR', minor: 1200 };

describe('what many sales would come to', () => {
	test.each([
		[
			'one refund that ends access',
			foretoldWords('refund', { kind: 'foretold', ...NOTHING, count: 1, sums: [EUR] }, true),
			[
				'One payment goes back: 12.00 EUR. What they pay for now ends with it, and what it opens closes.',
				'The member is told by mail.'
			]
		],
		[
			'refunds in two currencies, some of them by hand, some with nothing left',
			foretoldWords('refund', {
				...{ kind: 'foretold', ...NOTHING, count: 3, byHand: 2 },
				sums: [EUR, { currency: 'JPY', minor: 900 }],
				left: [{ why: 'nothing-left', count: 2 }]
			}),
			[
				'3 payments go back: 12.00 EUR and 900 JPY. Access stays as it is.',
				'2 of them were paid without a card: you send that money back yourself.',
				'2 payments have nothing left to refund, and stay as they are.',
				'Each member is told by mail.'
			]
		],
		[
			'subscriptions that end, one of which is in instalments',
			foretoldWords('cancel', {
				...{ kind: 'foretold', ...NOTHING, count: 2, sums: [EUR] },
				left: [{ why: 'instalments', count: 1 }],
				plans: [
					{ name: 'Workshop', count: 1 },
					{ name: 'Letter', count: 1 }
				]
			}),
			[
				'2 subscriptions end when what is paid runs out. Not asked for any more: 12.00 EUR of next payments.',
				'To Workshop (1), Letter (1).',
				'One subscription is owed in instalments, and stays as it is.',
				'Each member is told by mail.'
			]
		],
		[
			'a pause of one',
			foretoldWords('rest-2', {
				...{ kind: 'foretold', ...NOTHING, count: 1, sums: [EUR] },
				plans: [{ name: 'Workshop', count: 1 }]
			}),
			[
				'One subscription rests for 2 months, from the end of what is paid on. The next payments, 12.00 EUR, wait as long.',
				'To Workshop (1).',
				'The member is told by mail.'
			]
		],
		[
			'what asks for nothing next, and ends',
			foretoldWords('stop', { kind: 'foretold', ...NOTHING, count: 2 }),
			[
				'2 subscriptions end now, and what they open closes. Nothing is paid back.',
				'Each member is told by mail.'
			]
		]
	])('of %s', (_, said, expected) => {
		expect(said).toEqual(expected);
	});
});

describe('what many sales came to', () => {
	test.each([
		[1, 0, 0, 'Done with one payment.'],
		[12, 0, 0, 'Done with 12 payments.'],
		[
			11,
			1,
			0,
			'Done with 11 payments. One was changed in the same moment, and nothing was done to it: look once more.'
		],
		[80, 0, 30, 'Done with 80 payments. The last 30 of them show it within a minute.']
	])('%i done, %i missed and %i later', (count, missed, later, words) => {
		expect(doneWords('payment', { kind: 'done', count, missed, later })).toBe(words);
	});
});
