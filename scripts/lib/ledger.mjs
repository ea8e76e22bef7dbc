/** What does not hold in the books. Plain SQL: it asks the database and believes nothing else. */

/** Each gives the ids of what is wrong: of entries, payments, refunds or orders. */
const LOOKS = {
	'postings that do not sum to zero':
		'select entry_id as id from ledger_postings group by entry_id, currency having sum(amount_minor) <> 0',
	'money that came in without an entry': `select p.id from payments p left join ledger_entries e on e.source = concat('payment:', p.id)
		where p.state = 'captured' and p.amount_minor > 0 and e.id is null`,
	'money that went back without an entry': `select r.id from refunds r left join ledger_entries e on e.source = concat('refund:', r.id)
		where r.done_at is not null and e.id is null`,
	'disputes without an entry': `select d.id from disputes d left join ledger_entries e on e.source = concat('dispute:', d.id)
		left join ledger_entries w on w.source = concat('won:', d.id) where e.id is null or (d.state = 'won') <> (w.id is not null)`,
	'entries of money that never came in': `select e.id from ledger_entries e join payments p on p.id = e.payment_id
		where p.state <> 'captured'`,
	'another amount than came in and went back': `select p.id from payments p join ledger_entries e on e.payment_id = p.id
		join ledger_postings g on g.entry_id = e.id and g.account in ('processor', 'cash')
		group by p.id, p.amount_minor
		having sum(g.amount_minor) <> p.amount_minor
			- (select coalesce(sum(r.amount_minor), 0) from refunds r where r.payment_id = p.id and r.done_at is not null)
			- (select coalesce(sum(d.amount_minor), 0) from disputes d where d.payment_id = p.id and d.state <> 'won')`,
	'refunds that are not their payment’s sum': `select p.id from payments p left join refunds r on r.payment_id = p.id
		group by p.id, p.amount_minor, p.refunded_minor
		having coalesce(sum(r.amount_minor), 0) <> p.refunded_minor or p.refunded_minor > p.amount_minor`,
	'another currency than the payment’s': `select distinct e.id from ledger_entries e join payments p on p.id = e.payment_id
		join ledger_postings g on g.entry_id = e.id where g.currency <> p.currency`,
	'entries without a document': `select e.id from ledger_entries e left join documents d on d.source = e.source
		where e.kind in ('payment', 'refund') and (d.id is null or d.amount_minor <> (
			select abs(sum(g.amount_minor)) from ledger_postings g where g.entry_id = e.id and g.account in ('processor', 'cash')))`,
	'orders whose lines are not their total': `select o.id from orders o join order_lines l on l.order_id = o.id
		group by o.id, o.total_minor having sum(l.total_minor) <> o.total_minor`
};

/**
 * Reads all of the books.
 * @param {{ query: (sql: string) => Promise<[unknown, unknown]> }} connection of mysql2
 */
export async function ledgerFaults(connection) {
	const found = [];
	for (const [fault, look] of Object.entries(LOOKS)) {
		const [rows] = await connection.query(look);
		for (const { id } of /** @type {{ id: string }[]} */ (rows)) found.push({ fault, id });
	}
	return found;
}
