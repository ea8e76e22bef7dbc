/** The tax of a year, by quarter, country and rate: for whoever declares it. */
import { proofsOf, quartersOf } from '$core/billing/tax';
import { dayStart, localDay } from '$core/time/calendar';
import type { Using } from '../../app';
import { taxedDocuments, taxSums } from '../../db/queries/taxes';

/** Earlier than the first of them nothing was sold. */
const FIRST_YEAR = 2020;

/** A year as it is asked for; the present one where it is none. */
export async function yearAsked(app: Using<'clock' | 'site'>, typed: string | null): Promise<number> {
	const { zone } = await app.site();
	const now = Number(localDay(app.clock.business(), zone).slice(0, 4));
	const year = /^\d{4}$/.test(typed ?? '') ? Number(typed) : now;
	return Math.min(Math.max(year, FIRST_YEAR), now + 1);
}

async function spansOf(app: Using<'site'>, year: number) {
	const { zone } = await app.site();
	return quartersOf(year).map(({ quarter, from, before }) => ({
		quarter,
		...{ from: dayStart(from, zone), before: dayStart(before, zone) }
	}));
}

export async function taxReport(app: Using<'db' | 'site'>, year: number) {
	const spans = await spansOf(app, year);
	const quarters = await Promise.all(
		spans.map(async ({ quarter, from, before }) => ({ quarter, rows: await taxSums(app.db, from, before) }))
	);
	return { year, way: (await app.site()).tax.way, quarters };
}

/** Every document with tax of a year, one a row. */
export async function taxDocuments(app: Using<'db' | 'site'>, year: number) {
	const spans = await spansOf(app, year);
	const [from, before] = [spans[0]?.from ?? 0, spans.at(-1)?.before ?? 0];
	const rows = await taxedDocuments(app.db, from, before);
	return rows.map(({ document, order, tax }) => ({
		...document,
		order,
		sign: document.kind === 'credit-note' ? -1 : 1,
		buyer: document.content.buyer,
		/** How well the country is known: it was said, and where else it is known from. */
		proof: tax ? proofsOf(tax.buyer.country, tax.proofs) : 'none',
		proofs: tax?.proofs ?? []
	}));
}
