/** Numbers of orders and documents, in series without gaps. What somebody practises has series that nobody takes for others. */
import { localDay } from '$core/time/calendar';
import { nextNumber } from '../../db/queries/sales';
import type { DocumentKind } from '../../db/schema/sales';
import type { Work } from '../../transact';

type Numbering = Pick<Work, 'isPractice' | 'now' | 'tx'>;

const FIRST_ORDER = 10_000;

/** Such as S-10024; PS-10001 of the practice book. */
export async function orderNumber({ tx, isPractice }: Numbering): Promise<string> {
	return `${isPractice ? 'PS' : 'S'}-${FIRST_ORDER + (await nextNumber(tx, 'order'))}`;
}

/** Each in a series of its own, numbered within the publisher's year. */
const SERIES: Record<DocumentKind, { name: string; letter: string }> = {
	invoice: { name: 'invoice', letter: 'I' },
	receipt: { name: 'receipt', letter: 'R' },
	'credit-note': { name: 'credit-note', letter: 'C' }
};

/** Such as R-2026-00024; PR-2026-00001 of the practice book. @param zone the publisher's */
export async function documentNumber(work: Numbering, kind: DocumentKind, zone: string): Promise<string> {
	const { name, letter } = SERIES[kind];
	const year = localDay(work.now, zone).slice(0, 4);
	const number = await nextNumber(work.tx, `${name}-${year}`);
	return `${work.isPractice ? 'P' : ''}${letter}-${year}-${String(number).padStart(5, '0')}`;
}
