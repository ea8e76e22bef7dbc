/** Receipts and credit notes, as pages and as papers. */
import { OWN_COLOUR, tonesOf } from '$core/looks/colour';
import { frontWords, type FrontWords } from '$words/front';
import type { Using } from '../../app';
import { correctionsOf, documentByNumber } from '../../db/queries/sales';
import type { DocumentContent } from '../../db/schema/sales';
import type { Paper } from '../../ports/papers';

/** Who looks: whose it is, or who may see sales. */
export interface Reader {
	id: string;
	permissions: { has(permission: 'sales'): boolean };
}

/** A document as it was handed out, and what corrects it since. `null`: there is none for whoever looks. */
export async function documentPage(app: Using<'db'>, number: string, reader: Reader) {
	const document = await documentByNumber(app.db, number);
	if (!document || (document.memberId !== reader.id && !reader.permissions.has('sales'))) return null;
	const { kind, corrects, amountMinor, currency, content, issuedAt } = document;
	const { taxKind, taxCountry, taxName, taxRate, taxMinor } = document;
	const tax = taxKind &&
		taxCountry && {
			...{ kind: taxKind, country: taxCountry, name: taxName ?? '', rate: taxRate ?? 0, minor: taxMinor }
		};
	const corrections = await correctionsOf(app.db, document.number);
	return {
		...{ number: document.number, kind, corrects, corrections },
		...{ amountMinor, currency, content, issuedAt, tax }
	};
}

export type ShownDocument = NonNullable<Awaited<ReturnType<typeof documentPage>>>;

/** It as a paper, in the site's language and colour. */
export async function paperOf(app: Using<'site'>, document: ShownDocument): Promise<Paper> {
	const { language, zone, looks } = await app.site();
	const words = frontWords(language);
	const { number, kind, content, corrects, currency, issuedAt } = document;
	const { seller, buyer } = content;
	const money = (minor: number) => words.money(minor, currency);
	const amount = money(document.amountMinor);
	const title = words.say(`document.${kind}`, { number });
	const taxed = taxParts(words, document, money);
	const practised = content.isPractice ? [words.say('document.practised')] : [];
	const facts = [
		{ label: words.say('document.day'), value: words.day(issuedAt, zone) },
		...(corrects === null ? [] : [{ label: words.say('document.corrects'), value: corrects }]),
		{ label: words.say('document.statement'), value: seller.statementName }
	];
	return {
		language: words.locale,
		colour: tonesOf(looks.colour ?? OWN_COLOUR).light.moss,
		from: { name: seller.name, lines: sellerLines(words, seller) },
		to: { label: words.say('document.buyer'), name: buyer.name, lines: buyerLines(words, buyer) },
		title: content.isPractice ? words.say('document.practice', { title }) : title,
		facts,
		rows: content.lines.map((line) => ({
			text: line.kind === 'fee' ? words.say('document.fee', { plan: line.text }) : line.text,
			notes: lineNotes(words, line, currency, zone),
			amount: words.money(line.amountMinor, currency)
		})),
		total: { label: words.say(kind === 'credit-note' ? 'document.refunded' : 'document.paid'), amount },
		...{ ...taxed, notes: [...practised, ...taxed.notes] }
	};
}

/** The tax: above the total where it comes on top of the lines, else as a part of it. */
function taxParts(
	words: FrontWords,
	{ tax, amountMinor, content }: ShownDocument,
	money: (minor: number) => string
): Pick<Paper, 'sums' | 'parts' | 'notes'> {
	if (!tax) return { sums: [], parts: [], notes: [] };
	if (tax.kind === 'reversed') return { sums: [], parts: [], notes: [words.say('document.reversed')] };
	const isIn = content.isTaxIncluded ?? true;
	const name = tax.name || words.say('price.tax');
	const values = { name, rate: words.percent(tax.rate), country: words.country(tax.country) };
	const both = [
		{ label: words.say('document.net'), amount: money(amountMinor - tax.minor) },
		{ label: words.say(isIn ? 'document.tax-in' : 'document.tax', values), amount: money(tax.minor) }
	];
	return { sums: isIn ? [] : both, parts: isIn ? both.reverse() : [], notes: [] };
}

/** Where the buyer is, and the number of their business. */
function buyerLines(
	words: FrontWords,
	{ email, country = null, taxId = null }: DocumentContent['buyer']
): string[] {
	return [
		email,
		...(country === null ? [] : [words.country(country)]),
		...(taxId === null ? [] : [words.say('document.tax-id', { number: taxId })])
	].filter((text) => text !== '');
}

/** Where the seller is, and their tax number. */
function sellerLines(words: FrontWords, { address, taxNumber }: DocumentContent['seller']): string[] {
	return [
		...(address ?? '').split('\n'),
		...(taxNumber ? [words.say('document.tax-number', { number: taxNumber })] : [])
	].filter((text) => text !== '');
}

/** What is said under a line: for which time, and what was taken off. */
function lineNotes(
	words: FrontWords,
	{ amountMinor, discountMinor, period }: DocumentContent['lines'][number],
	currency: string,
	zone: string
): string[] {
	const money = (minor: number) => words.money(minor, currency);
	const days = period && {
		from: words.day(period.from, zone),
		through: words.day(period.through - 1, zone)
	};
	const off = discountMinor
		? { amount: money(amountMinor + discountMinor), off: money(discountMinor) }
		: null;
	return [
		...(days ? [words.say('document.period', days)] : []),
		...(off ? [words.say('document.discount', off)] : [])
	];
}
