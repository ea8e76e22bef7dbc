import { describe, expect, it, test } from 'vitest';
import {
	bestDiscount,
	CODE_REFUSALS,
	codeRefusal,
	lessFor,
	offAt,
	offAtAll,
	savedMinor,
	type DiscountCode,
	type TypedCode
} from './discount-code';
import type { Discount } from './discount';
import { renewingTerms, type Terms } from './terms';

const AT = Date.parse('2026-05-01T00:00Z');
const monthly = renewingTerms({ minor: 1200, currency: 'EUR' }, { count: 1, unit: 'month' });
const once: Terms = { currency: 'EUR', firstMinor: 9900, feeMinor: 500, then: { kind: 'nothing' } };
const part = (percent: number, payments: number | null = 1): Discount => ({
	off: { kind: 'percent', percent },
	payments
});
const euros = (minor: number, payments: number | null = 1): Discount => ({
	off: { kind: 'amount', minor, currency: 'EUR' },
	payments
});
const CODE: DiscountCode = {
	discount: part(10),
	planIds: null,
	startsAt: null,
	endsAt: null,
	usesPerCode: null,
	isOncePerBuyer: false
};
const USE = { planId: 'workshop', terms: monthly, uses: 0, hasUsed: false };

describe('a code', () => {
	test.each([
		['counts', {}, {}, null],
		['from its beginning on', { startsAt: AT }, {}, null],
		['not before', { startsAt: AT + 1 }, {}, 'too-early'],
		['until its end', { endsAt: AT + 1 }, {}, null],
		['the end itself is past it', { endsAt: AT }, {}, 'over'],
		['of one of its plans', { planIds: ['atelier', 'workshop'] }, {}, null],
		['and of no other', { planIds: ['atelier'] }, {}, 'other-plan'],
		['and of none', { planIds: [] }, {}, 'other-plan'],
		[
			'an amount in another currency',
			{ discount: euros(100) },
			{ terms: { ...monthly, currency: 'USD' } },
			'other-currency'
		],
		['a part in any', {}, { terms: { ...monthly, currency: 'USD' } }, null],
		['of what is free', {}, { terms: { ...once, firstMinor: 0 } }, 'takes-nothing'],
		['of a first stretch for nothing, later', {}, { terms: { ...monthly, firstMinor: 0 } }, null],
		['the last use', { usesPerCode: 3 }, { uses: 2 }, null],
		['used up', { usesPerCode: 3 }, { uses: 3 }, 'used-up'],
		['more than used up', { usesPerCode: 3 }, { uses: 4 }, 'used-up'],
		['again, where it may be', {}, { hasUsed: true }, null],
		['again, where each buyer has one', { isOncePerBuyer: true }, { hasUsed: true }, 'had-it'],
		['what is over is over, whatever else', { endsAt: AT, planIds: [], usesPerCode: 0 }, {}, 'over']
	] as [string, Partial<DiscountCode>, Partial<typeof USE>, string | null][])(
		'%s',
		(_name, code, use, expected) => {
			expect(codeRefusal({ ...CODE, ...code }, { ...USE, ...use }, AT)).toBe(expected);
		}
	);

	it('is refused for every reason that there is', () => {
		const all = [
			codeRefusal({ ...CODE, startsAt: AT + 1 }, USE, AT),
			codeRefusal({ ...CODE, endsAt: AT }, USE, AT),
			codeRefusal({ ...CODE, planIds: [] }, USE, AT),
			codeRefusal({ ...CODE, discount: euros(1) }, { ...USE, terms: { ...once, currency: 'USD' } }, AT),
			codeRefusal(CODE, { ...USE, terms: { ...once, firstMinor: 0 } }, AT),
			codeRefusal({ ...CODE, isOncePerBuyer: true }, { ...USE, hasUsed: true }, AT),
			codeRefusal({ ...CODE, usesPerCode: 1 }, { ...USE, uses: 1 }, AT)
		];
		expect(all).toEqual(CODE_REFUSALS);
	});
});

describe('of several', () => {
	// Worked by hand, over thirteen payments of 12.00.
	test.each([
		['half of the first', part(50, 1), 600],
		['a tenth of all', part(10, null), 13 * 120],
		['5.00 of the first three', euros(500, 3), 1500]
	])('%s saves so much', (_name, discount, saved) => {
		expect(savedMinor(monthly, discount)).toBe(saved);
	});

	it('the one that saves more counts, however it is made', () => {
		const [half, tenth] = [{ discount: part(50, 1) }, { discount: part(10, null) }];
		expect(bestDiscount(monthly, [half, tenth])).toBe(tenth);
		expect(bestDiscount(once, [half, tenth])).toBe(half);
		expect(bestDiscount(monthly, [{ discount: part(50, 1) }, half])).not.toBe(half);
		expect(bestDiscount({ ...monthly, currency: 'USD' }, [{ discount: euros(500) }])).toBeNull();
		expect(bestDiscount(monthly, [])).toBeNull();
	});
});

describe('what is taken off a price for somebody', () => {
	const typed = (discount: Discount, over: Partial<DiscountCode> = {}): TypedCode => ({
		...{ kind: 'code', id: 'one', uses: 0, hasUsed: false },
		code: { ...CODE, discount, ...over }
	});
	const none: TypedCode = { kind: 'none' };

	test.each([
		['nothing, where nothing counts', none, null, null],
		['of a code', typed(part(10)), null, { discount: part(10), codeId: 'one' }],
		['because of what is held', none, part(20), { discount: part(20), codeId: null }],
		['of both, what saves more', typed(part(30)), part(20), { discount: part(30), codeId: 'one' }],
		['and the other way', typed(part(10)), part(20), { discount: part(20), codeId: null }],
		['of two alike, the code', typed(part(20)), part(20), { discount: part(20), codeId: 'one' }]
	] as [string, TypedCode, Discount | null, object | null][])('%s', (_name, code, forHolding, taken) => {
		expect(offAt({ typed: code, forHolding }, 'workshop', monthly, AT)).toEqual({ ok: true, taken });
	});

	test.each([
		['no such code', { kind: 'unknown' }, 'unknown-code'],
		['one that gives', { kind: 'gives' }, 'gives'],
		['one that is over', typed(part(10), { endsAt: AT }), 'over']
	] as [string, TypedCode, string][])('%s is said, whatever is held', (_name, code, refusal) => {
		expect(offAt({ typed: code, forHolding: part(20) }, 'workshop', monthly, AT)).toEqual({
			...{ ok: false, code: refusal }
		});
	});

	it('is for holders of any of the plans, where it saves anything', () => {
		const less = { planIds: ['a', 'b'], discount: part(20) };
		expect(lessFor(monthly, less, new Set(['b', 'c'])).discount).toEqual(part(20));
		expect(lessFor(monthly, less, new Set(['c']))).toBe(monthly);
		expect(lessFor(monthly, null, new Set(['a']))).toBe(monthly);
		const dollars = { ...monthly, currency: 'USD' };
		expect(lessFor(dollars, { ...less, discount: euros(100) }, new Set(['a']))).toBe(dollars);
	});
});

describe('a code on several things that are ordered together', () => {
	const typed = (discount: Discount, planIds: string[] | null = null): TypedCode => ({
		...{ kind: 'code', id: 'code', uses: 0, hasUsed: false },
		code: { ...CODE, discount, planIds }
	});
	const thing = (planId: string, terms: Terms = once, forHolding: Discount | null = null) => ({
		...{ planId, terms, forHolding }
	});
	const [book, club] = [thing('book'), thing('club', monthly)];

	it.each<[string, TypedCode, (string | null)[] | string]>([
		['percent of each', typed(part(10)), ['code', 'code']],
		['an amount of the first alone', typed(euros(500)), ['code', null]],
		['an amount of the first that it is for', typed(euros(500), ['club']), [null, 'code']],
		['percent of those that it is for', typed(part(10), ['club']), [null, 'code']],
		['nothing, where it is for none of them', typed(part(10), ['other']), 'other-plan'],
		['nothing, where there is no such code', { kind: 'unknown' }, 'unknown-code'],
		['nothing, where none was typed', { kind: 'none' }, [null, null]]
	])('takes %s', (_what, code, expected) => {
		const answer = offAtAll(code, [book, club], AT);
		expect(answer.ok ? answer.taken.map((taken) => taken?.codeId ?? null) : answer.code).toEqual(expected);
	});

	it('leaves each what is taken off of it because of what is held, where the code is not for it', () => {
		const held = thing('club', monthly, part(50));
		const answer = offAtAll(typed(part(10), ['book']), [book, held], AT);
		expect(answer.ok && answer.taken).toEqual([
			{ discount: part(10), codeId: 'code' },
			{ discount: part(50), codeId: null }
		]);
	});

	it('of one thing alone is what it is of that', () => {
		for (const code of [typed(part(10)), typed(euros(500)), typed(part(10), ['other'])]) {
			const alone = offAt({ typed: code, forHolding: null }, 'book', once, AT);
			const answer = offAtAll(code, [book], AT);
			expect(answer.ok ? { ok: true, taken: answer.taken[0] } : answer).toEqual(alone);
		}
	});
});
