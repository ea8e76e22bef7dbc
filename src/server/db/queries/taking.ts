/** Of what there are only so many (uses of a code, places at a price) an order takes one: which orders do. */
import { and, eq, gt, inArray, isNotNull, isNull, ne, or } from 'drizzle-orm';
import { orders } from '../schema/sales';

/**
 * As long as an order that nobody has paid holds what it takes. Whoever pays later has it all the same: what was agreed to is
 * what is asked for.
 */
export const HOLDS_MS = 3_600_000;

export interface Buyer {
	memberId: string | null;
	/** Of a stranger only the device is asked: nobody learns what another address has bought. */
	deviceHash: string;
}

/** What holds nothing against a buyer: an order in whose place another is put, or all that they have not paid. */
export type Except = { orderId: string } | 'unpaid';

/** What is paid or approved, and what is being paid now. */
export const takes = (now: number) =>
	or(
		inArray(orders.state, ['paid', 'part-paid']),
		and(eq(orders.state, 'waiting'), isNotNull(orders.stoodByAt)),
		and(inArray(orders.state, ['open', 'waiting']), gt(orders.createdAt, now - HOLDS_MS))
	);

export const isBuyers = ({ memberId, deviceHash }: Buyer) =>
	memberId === null ? eq(orders.deviceHash, deviceHash) : eq(orders.memberId, memberId);

/** Those of strangers, of whom no member is known, too. */
const isOthers = ({ memberId, deviceHash }: Buyer) =>
	memberId === null
		? ne(orders.deviceHash, deviceHash)
		: or(isNull(orders.memberId), ne(orders.memberId, memberId));

export function butNot(buyer: Buyer, except: Except | undefined) {
	if (except === undefined) return undefined;
	return except === 'unpaid' ? or(eq(orders.state, 'paid'), isOthers(buyer)) : ne(orders.id, except.orderId);
}
