/** What a price asks for, as a sentence's part: "12.00 EUR a month", "1.00 EUR for two weeks, then 12.00 EUR a month". */
import type { FrontWords } from './front';

type Unit = 'day' | 'week' | 'month' | 'year';

interface Step {
	count: number;
	unit: Unit;
}

export interface PriceTerms {
	currency: string;
	firstMinor: number;
	feeMinor: number;
	then:
		| { kind: 'nothing' }
		| { kind: 'more'; times: number | null; amountMinor: number; every: Step; firstLasts: Step | null };
	/** What is taken off it. */
	discount?: DiscountTerms;
}

export interface DiscountTerms {
	off: { kind: 'percent'; percent: number } | { kind: 'amount'; minor: number; currency: string };
	/** `null`: of all. */
	payments: number | null;
}

/** Around amounts, so that they can be shown apart: no text contains it. */
const MARK = '\u0002';

/** As plain text. */
export function priceText(words: FrontWords, terms: PriceTerms): string {
	return sentence(words, terms, (amount) => amount);
}

/** In pieces, its amounts told apart. */
export function pricePieces(words: FrontWords, terms: PriceTerms): { text: string; isAmount: boolean }[] {
	return sentence(words, terms, (amount) => `${MARK}${amount}${MARK}`)
		.split(MARK)
		.map((text, n) => ({ text, isAmount: n % 2 === 1 }))
		.filter(({ text }) => text !== '');
}

/** A length of time: "one month", "2 weeks". */
export function lengthText(words: FrontWords, { count, unit }: Step): string {
	return words.say(`price.length-${unit}`, { count });
}

/** What is taken off, and of which payments: "10 % off the first 3 payments". @param isOnce of what is paid once */
export function discountText(
	words: FrontWords,
	{ off, payments }: DiscountTerms,
	isOnce = false,
	marked: (amount: string) => string = (amount) => amount
): string {
	const part = marked(off.kind === 'percent' ? `${off.percent} %` : words.money(off.minor, off.currency));
	if (isOnce) return words.say('price.off', { part });
	return payments === null
		? words.say('price.off-all', { part })
		: words.say('price.off-first', { part, count: payments });
}

function sentence(words: FrontWords, terms: PriceTerms, marked: (amount: string) => string): string {
	const money = (minor: number) => marked(words.money(minor, terms.currency));
	const whole = withoutFee(words, terms, money);
	const { discount, feeMinor, then } = terms;
	const less = discount && discountText(words, discount, then.kind === 'nothing', marked);
	const price = less ? words.say('price.less', { price: whole, less }) : whole;
	return feeMinor > 0 ? words.say('price.fee', { price, fee: money(feeMinor) }) : price;
}

function withoutFee(
	words: FrontWords,
	{ firstMinor, then }: PriceTerms,
	money: (minor: number) => string
): string {
	if (then.kind === 'nothing' && firstMinor === 0) return words.say('price.free');
	if (then.kind === 'nothing') return words.say('price.once', { amount: money(firstMinor) });
	const { times, amountMinor, firstLasts } = then;
	const every = words.say(`price.every-${then.every.unit}`, { count: then.every.count });
	const amount = money(amountMinor);
	const isAlike = firstMinor === amountMinor && firstLasts === null;
	const payments = (count: number) => words.say('price.payments', { count, amount, every });
	const each = () => words.say('price.each', { amount, every });
	if (isAlike) return times === null ? each() : payments(times + 1);
	const rest = times === null ? each() : payments(times);
	const length = lengthText(words, firstLasts ?? then.every);
	if (firstMinor === 0) return words.say('price.free-stretch', { length, then: rest });
	const first = money(firstMinor);
	return firstLasts
		? words.say('price.stretch', { first, length, then: rest })
		: words.say('price.first', { first, then: rest });
}
