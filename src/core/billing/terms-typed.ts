/** A price as somebody typed it, read into terms. */
import type { CalendarUnit } from '../time/calendar';
import { parseAmount, type AmountProblem } from './money';
import { MOST_OF_UNIT, MOST_TIMES, type Step, type Terms, type Then } from './terms';

/** What the fields hold, as typed. */
export interface TypedPrice {
	/** What is paid first; 0: nothing. */
	amount: string;
	currency: string;
	/** Once on top of it; empty: nothing. */
	fee: string;
	then: 'nothing' | 'times' | 'until-ended';
	/** How many payments more. */
	times: string;
	/** What each of them is; empty: as much as the first. */
	thenAmount: string;
	everyCount: string;
	everyUnit: CalendarUnit;
	/** How long what is paid first lasts; empty: as long as the others. */
	firstCount: string;
	firstUnit: CalendarUnit;
}

export type TypedField = keyof TypedPrice;
export type TypedProblem =
	{ field: TypedField; code: AmountProblem } | { field: TypedField; code: 'not-a-count'; most: number };

export type ReadPrice = { ok: true; terms: Terms } | { ok: false; problem: TypedProblem };

/** Stops at the first thing that is wrong. */
export function readPrice(typed: TypedPrice): ReadPrice {
	const first = parseAmount(typed.amount, typed.currency, 0);
	if (!first.ok) return { ok: false, problem: { field: 'amount', code: first.code } };
	const fee = typed.fee.trim() === '' ? null : parseAmount(typed.fee, typed.currency);
	if (fee && !fee.ok) return { ok: false, problem: { field: 'fee', code: fee.code } };
	const then = readThen(typed, first.money.minor);
	if (!then.ok) return then;
	const { minor: firstMinor, currency } = first.money;
	return { ok: true, terms: { currency, firstMinor, feeMinor: fee?.money.minor ?? 0, then: then.then } };
}

function readThen(
	typed: TypedPrice,
	firstMinor: number
): { ok: true; then: Then } | { ok: false; problem: TypedProblem } {
	if (typed.then === 'nothing') return { ok: true, then: { kind: 'nothing' } };
	const isLike = typed.thenAmount.trim() === '';
	if (isLike && firstMinor === 0)
		return { ok: false, problem: { field: 'thenAmount', code: 'not-positive' } };
	const each = isLike ? null : parseAmount(typed.thenAmount, typed.currency);
	if (each && !each.ok) return { ok: false, problem: { field: 'thenAmount', code: each.code } };
	const times = typed.then === 'times' ? countIn(typed.times, MOST_TIMES) : null;
	if (times === undefined) return notACount('times', MOST_TIMES);
	const every = stepIn(typed.everyCount, typed.everyUnit);
	if (!every) return notACount('everyCount', MOST_OF_UNIT[typed.everyUnit]);
	const isAsLong = typed.firstCount.trim() === '';
	const firstLasts = isAsLong ? null : stepIn(typed.firstCount, typed.firstUnit);
	if (!isAsLong && !firstLasts) return notACount('firstCount', MOST_OF_UNIT[typed.firstUnit]);
	return {
		ok: true,
		then: { kind: 'more', times, amountMinor: each?.money.minor ?? firstMinor, every, firstLasts }
	};
}

function notACount(field: TypedField, most: number): { ok: false; problem: TypedProblem } {
	return { ok: false, problem: { field, code: 'not-a-count', most } };
}

function stepIn(text: string, unit: CalendarUnit): Step | null {
	const count = countIn(text, MOST_OF_UNIT[unit]);
	return count === undefined ? null : { count, unit };
}

function countIn(text: string, most: number): number | undefined {
	if (!/^\d{1,4}$/.test(text.trim())) return undefined;
	const count = Number(text);
	return count >= 1 && count <= most ? count : undefined;
}
