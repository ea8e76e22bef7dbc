import { plainAmount } from '$core/billing/money';
import { percentOf } from '$core/billing/tax';
import { csv } from '$server/http/csv';
import { taxDocuments, yearAsked } from '$server/reads/desk/tax-report';
import type { RequestHandler } from './$types';

/** Every invoice and credit note of a year, with where its buyer was and how that is known. */
export const GET: RequestHandler = async ({ locals: { app }, url }) => {
	const year = await yearAsked(app, url.searchParams.get('year'));
	const rows = await taxDocuments(app, year);
	const head = ['date', 'document', 'order', 'buyer', 'country', 'tax number', 'owed in', 'tax', 'rate'];
	return csv(`tax-documents-${year}`, [
		[...head, 'owed by', 'net', 'tax amount', 'currency', 'proof of country', 'said', 'card', 'network'],
		...rows.map((row) => {
			const { currency, sign, buyer } = row;
			const money = (minor: number) => plainAmount({ minor: sign * minor, currency });
			const from = (source: string) => row.proofs.find((one) => one.from === source)?.country ?? '';
			return [
				...[new Date(row.issuedAt).toISOString(), row.number, row.order, buyer.name],
				...[buyer.country ?? '', buyer.taxId ?? '', row.taxCountry ?? '', row.taxName ?? ''],
				...[String(percentOf(row.taxRate ?? 0)), row.taxKind === 'reversed' ? 'buyer' : 'seller'],
				...[money(row.amountMinor - row.taxMinor), money(row.taxMinor), currency, row.proof],
				...[from('said'), from('card'), from('network')]
			];
		})
	]);
};
