import { expect, test } from 'vitest';
import { readOff, type TypedOff } from './discount-typed';

const TYPED: TypedOff = {
	offKind: 'percent',
	percent: '10',
	offAmount: '',
	offCurrency: 'EUR',
	offOf: 'first',
	offPayments: ''
};

test.each([
	['a part of the first', {}, { off: { kind: 'percent', percent: 10 }, payments: 1 }],
	[
		'with its sign',
		{ percent: ' 25 % ', offOf: 'all' },
		{ off: { kind: 'percent', percent: 25 }, payments: null }
	],
	[
		'an amount of some',
		{ offKind: 'amount', percent: 'x', offAmount: '2,50', offOf: 'some', offPayments: '3' },
		{ off: { kind: 'amount', minor: 250, currency: 'EUR' }, payments: 3 }
	]
] as [string, Partial<TypedOff>, object][])('%s', (_name, typed, discount) => {
	expect(readOff({ ...TYPED, ...typed })).toEqual({ ok: true, discount });
});

test.each([
	['no part', { percent: '0' }, { field: 'percent', code: 'not-a-percentage' }],
	['more than all', { percent: '101' }, { field: 'percent', code: 'not-a-percentage' }],
	['a fraction', { percent: '7.5' }, { field: 'percent', code: 'not-a-percentage' }],
	['words', { percent: 'half' }, { field: 'percent', code: 'not-a-percentage' }],
	['no amount', { offKind: 'amount' }, { field: 'offAmount', code: 'not-a-number' }],
	[
		'an amount below a cent',
		{ offKind: 'amount', offAmount: '0.001' },
		{ field: 'offAmount', code: 'too-many-decimals' }
	],
	['no number', { offOf: 'some' }, { field: 'offPayments', code: 'not-a-count', most: 120 }],
	[
		'too many',
		{ offOf: 'some', offPayments: '121' },
		{ field: 'offPayments', code: 'not-a-count', most: 120 }
	]
] as [string, Partial<TypedOff>, object][])('%s is said', (_name, typed, problem) => {
	expect(readOff({ ...TYPED, ...typed })).toEqual({ ok: false, problem });
});
