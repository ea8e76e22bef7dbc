import { IsIn, IsNotEmpty, Matches, MaxLength } from 'class-validator';
import type { AfterLapse } from '$core/access/model';
import { CURRENCIES, MAX_AMOUNT_MAJOR, parseAmount, type AmountProblem } from '$core/billing/money';
import type { PlanWish } from '$server/usecases/plans/save-plan';
import { fieldError, parse, type FieldErrors, type Values } from '$server/http/parse';

class PlanForm {
	@MaxLength(120, { message: 'A name has at most 120 characters.' })
	@IsNotEmpty({ message: 'Give the plan a name: buyers see it.' })
	name = '';

	@MaxLength(2000, { message: 'At most 2000 characters in all.' })
	lines = '';

	@IsNotEmpty({ message: 'Type a price, such as 12 or 12.50.' })
	amount = '';

	@IsIn(CURRENCIES, { message: 'Choose a currency.' })
	currency = '';

	@IsIn(['month', 'year'], { message: 'Choose how often it is paid.' })
	unit = 'month' as 'month' | 'year';

	@IsIn(['', 'yes'], { message: 'Choose whether it is listed.' })
	isPublic = '';

	@IsIn(['', 'yes'], { message: 'Choose whether it is on sale.' })
	isOnSale = '';

	@IsIn(['on', 'stand-still', 'anew'], { message: 'Choose how releases go on after a lapse.' })
	afterLapse = 'on' as AfterLapse;

	@MaxLength(120, { message: 'A ladder’s name has at most 120 characters.' })
	ladder = '';

	@Matches(/^\d{1,3}$/, { message: 'A rung is a whole number: 1 is the lowest.' })
	rung = '1';
}

const MAX_LINES = 12;

function amountMessage(code: AmountProblem, currency: string): string {
	switch (code) {
		case 'not-a-number':
			return 'Write the price in digits, such as 12 or 12.50.';
		case 'not-positive':
			return 'A price is more than 0.';
		case 'too-many-decimals':
			return `${currency} has no amounts that small. Write the price with fewer decimals.`;
		case 'too-large':
			return `That is more than ${MAX_AMOUNT_MAJOR.toLocaleString('en-GB')} ${currency}, the most a price can be.`;
		case 'unknown-currency':
			return 'Choose a currency.';
		default:
			return code satisfies never;
	}
}

export type ParsedPlan = { ok: true; wish: PlanWish } | { ok: false; errors: FieldErrors; values: Values };

export async function parsePlan(form: FormData): Promise<ParsedPlan> {
	const parsed = await parse(PlanForm, form);
	if (!parsed.ok) return parsed;
	const { name, lines, amount, currency, unit, isPublic, isOnSale, afterLapse, ladder, rung } = parsed.data;
	const price = parseAmount(amount, currency);
	if (!price.ok) return { ok: false, ...fieldError(form, 'amount', amountMessage(price.code, currency)) };
	const list = lines
		.split('\n')
		.map((line) => line.trim())
		.filter((line) => line !== '');
	if (list.length > MAX_LINES)
		return { ok: false, ...fieldError(form, 'lines', `At most ${MAX_LINES} lines, please.`) };
	return {
		ok: true,
		wish: {
			name,
			lines: [...new Set(list)],
			price: price.money,
			unit,
			isPublic: isPublic === 'yes',
			isOnSale: isOnSale === 'yes',
			afterLapse,
			ladder: ladder || null,
			rung: Number(rung)
		}
	};
}
