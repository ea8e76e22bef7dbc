import { IsIn, IsNotEmpty, MaxLength } from 'class-validator';
import { CURRENCIES, parseAmount } from '$core/billing/money';
import { MOST_OF_UNIT } from '$core/billing/terms';
import { CALENDAR_UNITS, type CalendarUnit } from '$core/time/calendar';
import type { AloneWish } from '$server/usecases/plans/sell-alone';
import { amountMessage } from '$server/http/money-messages';
import { fieldError, parse, type FieldErrors, type Values } from '$server/http/parse';

/** More uses than that are a typing error. */
const MOST_USES = 10_000;
const TOO_MANY = { message: 'That is too many.' };

class AloneForm {
	@IsNotEmpty({ message: 'Type a price, such as 5 or 5.50.' })
	@MaxLength(20, { message: 'Write it in digits, such as 5 or 5.50.' })
	aloneAmount = '';

	@IsIn(CURRENCIES, { message: 'Choose a currency.' })
	aloneCurrency = '';

	@MaxLength(4, TOO_MANY)
	aloneCount = '';

	@IsIn(CALENDAR_UNITS, { message: 'Choose days, weeks, months or years.' })
	aloneUnit = 'day' as CalendarUnit;

	@MaxLength(6, TOO_MANY)
	aloneUses = '';
}

type Parsed = { ok: true; wish: AloneWish } | { ok: false; errors: FieldErrors; values: Values };

/** One price, paid once; how long it opens, and how often, where that is not for good. */
export async function parseAlone(form: FormData): Promise<Parsed> {
	const parsed = await parse(AloneForm, form);
	if (!parsed.ok) return parsed;
	const { aloneAmount, aloneCurrency: currency, aloneCount, aloneUnit: unit, aloneUses } = parsed.data;
	const no = (field: string, message: string): Parsed => ({ ok: false, ...fieldError(form, field, message) });
	const amount = parseAmount(aloneAmount, currency);
	if (!amount.ok) return no('aloneAmount', amountMessage(amount.code, currency));
	const count = wholeIn(aloneCount, MOST_OF_UNIT[unit]);
	if (count === undefined)
		return no('aloneCount', `A whole number from 1 to ${MOST_OF_UNIT[unit]}, or nothing.`);
	const uses = wholeIn(aloneUses, MOST_USES);
	if (uses === undefined) return no('aloneUses', `A whole number from 1 to ${MOST_USES}, or nothing.`);
	return {
		ok: true,
		wish: {
			terms: { currency, firstMinor: amount.money.minor, feeMinor: 0, then: { kind: 'nothing' } },
			access: count === null ? { kind: 'for-good' } : { kind: 'length', length: { count, unit } },
			uses
		}
	};
}

/** `null`: nothing was typed; `undefined`: it is none, or beyond the most. */
function wholeIn(typed: string, most: number): number | null | undefined {
	const text = typed.trim();
	if (text === '') return null;
	const count = /^\d+$/.test(text) ? Number(text) : 0;
	return count >= 1 && count <= most ? count : undefined;
}
