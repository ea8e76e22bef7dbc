import { IsIn, IsNotEmpty, Matches, MaxLength } from 'class-validator';
import type { AfterLapse } from '$core/access/model';
import type { LessFor } from '$core/billing/discount';
import { readOff, type TypedOff } from '$core/billing/discount-typed';
import { CURRENCIES } from '$core/billing/money';
import { readWays, WAY_LISTS } from '$core/billing/pay-by';
import { STATEMENT_NAME } from '$core/billing/statement-name';
import { MOST_FIRST_BUYERS, SALES, type PlanAccess, type Sale } from '$core/billing/plan-access';
import { MOST_OF_UNIT, type Terms } from '$core/billing/terms';
import { readPrice, type TypedPrice, type TypedProblem } from '$core/billing/terms-typed';
import { CALENDAR_UNITS, readLocal, type CalendarUnit } from '$core/time/calendar';
import type { PriceWish } from '$server/usecases/plans/save-price';
import type { PlanWish } from '$server/usecases/plans/save-plan';
import { amountMessage, offMessage } from '$server/http/money-messages';
import { record } from '$server/http/read-window';
import { fieldError, parse, type FieldErrors, type Values } from '$server/http/parse';

const AMOUNT_TOO_LONG = 'Write it in digits, such as 12 or 12.50.';

const FIRST_BUYERS_WRONG = `A whole number from 1 to ${MOST_FIRST_BUYERS}, or nothing.`;

class PriceForm {
	@MaxLength(80, { message: 'At most 80 characters: buyers choose the price by it.' })
	priceName = '';

	@IsNotEmpty({ message: 'Type a price, such as 12 or 12.50. Where nothing is paid: 0.' })
	amount = '';

	@IsIn(CURRENCIES, { message: 'Choose a currency.' })
	currency = '';

	@MaxLength(20, { message: AMOUNT_TOO_LONG })
	fee = '';

	@IsIn(['nothing', 'times', 'until-ended'], { message: 'Choose what is paid then.' })
	then = 'until-ended' as TypedPrice['then'];

	@MaxLength(20, { message: AMOUNT_TOO_LONG })
	thenAmount = '';

	@MaxLength(4, { message: 'That is too many.' })
	times = '';

	@MaxLength(4, { message: 'That is too many.' })
	everyCount = '';

	@IsIn(CALENDAR_UNITS, { message: 'Choose days, weeks, months or years.' })
	everyUnit = 'month' as CalendarUnit;

	@MaxLength(4, { message: 'That is too many.' })
	firstCount = '';

	@IsIn(CALENDAR_UNITS, { message: 'Choose days, weeks, months or years.' })
	firstUnit = 'week' as CalendarUnit;

	@Matches(/^(?:[1-9]\d{0,3}|10000)?$/, { message: FIRST_BUYERS_WRONG })
	firstBuyers = '';
}

class PlanForm extends PriceForm {
	@MaxLength(120, { message: 'A name has at most 120 characters.' })
	@IsNotEmpty({ message: 'Give the plan a name: buyers see it.' })
	name = '';

	@MaxLength(2000, { message: 'At most 2000 characters in all.' })
	lines = '';

	@IsIn(['', ...WAY_LISTS], { message: 'Choose how it is paid.' })
	payBy = '';

	@IsIn(['', 'yes'], { message: 'Choose how a new address is let in.' })
	isOpenAtOnce = '';

	@IsIn(['while-paid', 'for-good', 'length', 'until'], { message: 'Choose how long it opens.' })
	access = 'while-paid' as PlanAccess['kind'];

	@MaxLength(4, { message: 'That is too many.' })
	accessCount = '';

	@IsIn(CALENDAR_UNITS, { message: 'Choose days, weeks, months or years.' })
	accessUnit = 'month' as CalendarUnit;

	@MaxLength(20, { message: 'Choose a day and a time.' })
	accessUntil = '';

	@MaxLength(2000, { message: 'At most 2000 characters.' })
	note = '';

	@IsIn(SALES, { message: 'Choose who can buy it.' })
	sale = 'listed' as Sale;

	@IsIn(['', 'yes'], { message: 'Choose whom it is sold to.' })
	isForSome = '';

	@Matches(/^([0-9a-f-]{36})?$/, { message: 'Choose what they may open.' })
	soldTo = '';

	@IsIn(['', 'yes'], { message: 'Choose when one goes down from it.' })
	isDownAtOnce = '';

	@IsIn(['', 'yes'], { message: 'Choose whether it can be bought as a gift.' })
	sellsAsGift = '';

	@IsIn(['', 'yes'], { message: 'Choose whether it can be bought for several people.' })
	sellsSeats = '';

	@IsIn(['', 'yes'], { message: 'Choose whether a postal address is asked for.' })
	asksPostal = '';

	@IsIn(['', 'yes'], { message: 'Choose whether holders of other plans pay less.' })
	isLess = '';

	@IsIn(['percent', 'amount'], { message: 'Choose percent or an amount.' })
	offKind = 'percent' as TypedOff['offKind'];

	@MaxLength(10, { message: 'A whole number from 1 to 100.' })
	percent = '';

	@MaxLength(20, { message: AMOUNT_TOO_LONG })
	offAmount = '';

	@IsIn(['', ...CURRENCIES], { message: 'Choose a currency.' })
	offCurrency = '';

	@IsIn(['first', 'some', 'all'], { message: 'Choose of which payments.' })
	offOf = 'first' as TypedOff['offOf'];

	@MaxLength(4, { message: 'That is too many.' })
	offPayments = '';

	@IsIn(['on', 'stand-still', 'anew'], { message: 'Choose how releases go on after a lapse.' })
	afterLapse = 'on' as AfterLapse;

	@IsIn(['', 'yes'], { message: 'Choose whether it is bought elsewhere.' })
	isElsewhere = '';

	@MaxLength(500, { message: 'An address has at most 500 characters.' })
	buyAt = '';

	@MaxLength(22, { message: 'At most 22 characters.' })
	statementName = '';

	@MaxLength(120, { message: 'At most 120 characters.' })
	mailingList = '';

	@MaxLength(20, { message: 'Choose a day and a time.' })
	sellsFrom = '';

	@MaxLength(20, { message: 'Choose a day and a time.' })
	sellsUntil = '';

	@MaxLength(20, { message: 'Choose a day and a time.' })
	firstDay = '';

	@IsIn(['', 'yes'], { message: 'Choose whether there is a waiting list.' })
	hasWaitingList = '';

	@IsIn(['', 'yes'], { message: 'Choose whether every new account is given it.' })
	isGiven = '';

	@MaxLength(20, { message: 'Choose a day and a time.' })
	givenFrom = '';

	@MaxLength(120, { message: 'A ladder’s name has at most 120 characters.' })
	ladder = '';

	@Matches(/^\d{1,3}$/, { message: 'A rung is a whole number: 1 is the lowest.' })
	rung = '1';
}

const MAX_LINES = 12;

/** What holders of other plans pay less. */
function lessIn(form: FormData, typed: PlanForm): { ok: true; less: LessFor | null } | Refused {
	if (typed.isLess !== 'yes') return { ok: true, less: null };
	const planIds = form
		.getAll('lessFor')
		.map(String)
		.filter((id) => /^[0-9a-f-]{36}$/.test(id));
	if (planIds.length === 0)
		return { ok: false, ...fieldError(form, 'lessFor', 'Choose whose holders pay less.') };
	const off = readOff(typed);
	if (off.ok) return { ok: true, less: { planIds, discount: off.discount } };
	const { problem } = off;
	return { ok: false, ...fieldError(form, problem.field, offMessage(problem, typed.offCurrency)) };
}

type Refused = { ok: false; errors: FieldErrors; values: Values };
export type ParsedPlan = { ok: true; wish: PlanWish } | Refused;

function problemMessage(problem: TypedProblem, currency: string): string {
	return problem.code === 'not-a-count'
		? `A whole number from 1 to ${problem.most}.`
		: amountMessage(problem.code, currency);
}

/** How long it opens; a text: what is wrong, and with which field. */
function accessIn(
	{ access, accessCount, accessUnit, accessUntil }: PlanForm,
	zone: string
): PlanAccess | { field: 'accessCount' | 'accessUntil'; message: string } {
	switch (access) {
		case 'while-paid':
		case 'for-good':
			return { kind: access };
		case 'length': {
			const most = MOST_OF_UNIT[accessUnit];
			const count = /^\d+$/.test(accessCount) ? Number(accessCount) : 0;
			return count >= 1 && count <= most
				? { kind: 'length', length: { count, unit: accessUnit } }
				: { field: 'accessCount', message: `A whole number from 1 to ${most}.` };
		}
		case 'until': {
			const read = readLocal(accessUntil, zone);
			return read.ok
				? { kind: 'until', at: read.at }
				: { field: 'accessUntil', message: 'Choose the day and the time at which it closes.' };
		}
	}
}

/** When selling opens and closes, and on which day all begin. */
function intakeIn(
	form: FormData,
	{ sellsFrom, sellsUntil, firstDay, hasWaitingList }: PlanForm,
	access: PlanAccess,
	zone: string
): { ok: true; wish: Pick<PlanWish, 'sellsFrom' | 'sellsUntil' | 'firstDay' | 'hasWaitingList'> } | Refused {
	const moments: (number | null)[] = [];
	for (const [field, typed] of Object.entries({ sellsFrom, sellsUntil, firstDay })) {
		const read = typed === '' ? null : readLocal(typed, zone);
		if (read && !read.ok)
			return { ok: false, ...fieldError(form, field, 'Choose the day and the time, or leave it empty.') };
		moments.push(read ? read.at : null);
	}
	const [from = null, until = null, first = null] = moments;
	if (from !== null && until !== null && until <= from)
		return {
			...{ ok: false },
			...fieldError(form, 'sellsUntil', 'It would close before it opens. Choose a later end, or none.')
		};
	if (first !== null && access.kind === 'until' && access.at <= first)
		return {
			...{ ok: false },
			...fieldError(
				form,
				'firstDay',
				'It would begin after it has closed. Choose an earlier day, or let it open longer.'
			)
		};
	const waits = { hasWaitingList: hasWaitingList === 'yes' };
	return { ok: true, wish: { sellsFrom: from, sellsUntil: until, firstDay: first, ...waits } };
}

/** Where and by whom it is bought, how its seller stands on statements, and since when new accounts are given it. */
function besidesIn(
	form: FormData,
	typed: PlanForm,
	zone: string
):
	| { ok: true; wish: Pick<PlanWish, 'buyAt' | 'statementName' | 'mailingList' | 'givenFrom' | 'soldTo'> }
	| Refused {
	const no = (field: string, message: string) => ({
		ok: false as const,
		...fieldError(form, field, message)
	});
	const statementName = typed.statementName.trim();
	if (statementName !== '' && !STATEMENT_NAME.test(statementName))
		return no('statementName', 'Use 5 to 22 plain letters, digits, spaces, dots, stars or hyphens.');
	const buyAt = typed.isElsewhere === 'yes' ? addressElsewhere(typed.buyAt.trim()) : null;
	if (typed.isElsewhere === 'yes' && buyAt === null)
		return no('buyAt', 'Type the address of the page on which it is bought, with https:// in front.');
	if (buyAt !== null && typed.ladder.trim() !== '')
		return no('ladder', 'What is bought elsewhere stands on no ladder: a move is paid here.');
	const soldTo = typed.isForSome === 'yes' ? typed.soldTo : null;
	if (soldTo === '') return no('soldTo', 'Choose what they may open.');
	if (soldTo !== null && typed.ladder.trim() !== '')
		return no('ladder', 'What is sold only to some stands on no ladder: one moves to any of its rungs.');
	const mailingList = typed.mailingList.trim() || null;
	const sold = { buyAt, statementName: statementName || null, mailingList, soldTo };
	if (typed.isGiven !== 'yes' || typed.givenFrom === '')
		return { ok: true, wish: { ...sold, givenFrom: typed.isGiven === 'yes' ? 'now' : null } };
	const read = readLocal(typed.givenFrom, zone);
	if (!read.ok)
		return no('givenFrom', 'Choose the day and the time from which it is given, or leave it empty.');
	return { ok: true, wish: { ...sold, givenFrom: read.at } };
}

/** `null`: it is none. */
function addressElsewhere(typed: string): string | null {
	const url = URL.canParse(typed) ? new URL(typed) : null;
	return url?.protocol === 'https:' && url.username === '' && url.password === '' ? url.href : null;
}

function termsIn(form: FormData, typed: PriceForm): { ok: true; terms: Terms } | Refused {
	const price = readPrice(typed);
	if (price.ok) return price;
	const { problem } = price;
	return { ok: false, ...fieldError(form, problem.field, problemMessage(problem, typed.currency)) };
}

export type ParsedPrice = { ok: true; wish: PriceWish } | Refused;

/** A price beside the first: buyers choose it by its name. */
export async function parsePrice(form: FormData): Promise<ParsedPrice> {
	const parsed = await parse(PriceForm, form);
	if (!parsed.ok) return parsed;
	const name = parsed.data.priceName.trim();
	const price = termsIn(form, parsed.data);
	const firstBuyers = firstBuyersIn(parsed.data);
	return price.ok ? { ok: true, wish: { name, terms: price.terms, firstBuyers } } : price;
}

function firstBuyersIn({ firstBuyers }: PriceForm): number | null {
	return firstBuyers === '' ? null : Number(firstBuyers);
}

export async function parsePlan(form: FormData, zone: string): Promise<ParsedPlan> {
	const parsed = await parse(PlanForm, form);
	if (!parsed.ok) return parsed;
	const { name, lines, note, sale, afterLapse, ladder, rung, payBy, isOpenAtOnce } = parsed.data;
	const price = termsIn(form, parsed.data);
	if (!price.ok) return price;
	const access = accessIn(parsed.data, zone);
	if ('field' in access) return { ok: false, ...fieldError(form, access.field, access.message) };
	const less = lessIn(form, parsed.data);
	if (!less.ok) return less;
	const besides = besidesIn(form, parsed.data, zone);
	if (!besides.ok) return besides;
	const intake = intakeIn(form, parsed.data, access, zone);
	if (!intake.ok) return intake;
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
			priceName: parsed.data.priceName.trim(),
			terms: price.terms,
			payBy: payBy === '' ? null : readWays(payBy),
			isOpenAtOnce: isOpenAtOnce === 'yes',
			access,
			note: note.trim(),
			lessFor: less.less,
			...besides.wish,
			sellsAsGift: parsed.data.sellsAsGift === 'yes',
			sellsSeats: parsed.data.sellsSeats === 'yes',
			asksPostal: parsed.data.asksPostal === 'yes',
			isDownAtOnce: parsed.data.isDownAtOnce === 'yes',
			isPublic: sale === 'listed',
			isOnSale: sale !== 'closed',
			...intake.wish,
			firstBuyers: firstBuyersIn(parsed.data),
			afterLapse,
			ladder: ladder || null,
			rung: Number(rung)
		}
	};
}

/** What the page sends: things with their names, of which the ids count. */
export function chosenIn(sent: string): string[] {
	try {
		const chosen: unknown = JSON.parse(sent);
		return Array.isArray(chosen) ? chosen.map((one) => String(record(one).id)) : [];
	} catch {
		return [];
	}
}
