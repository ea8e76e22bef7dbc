/** What does not hold in the books. Plain SQL: it asks the database and believes nothing else. */

const CAME_IN = "('captured', 'refunded', 'disputed', 'won')";

/** Each gives the ids of what is wrong: of entries, or of payments. */
const LOOKS = {
	'postings that do not sum to zero':
		'select entry_id as id from ledger_postings group by entry_id, currency having sum(amount_minor) <> 0',
	'money that came in without an entry': `select p.id from payments p left join ledger_entries e on e.payment_id = p.id and e.kind = 'payment'
		where p.state in ${CAME_IN} and e.id is null`,
	'entries of money that never came in': `select e.id from ledger_entries e join payments p on p.id = e.payment_id
		where p.state not in ${CAME_IN}`,
	'another amount than the payment’s state says': `select p.id from payments p join ledger_entries e on e.payment_id = p.id
		join ledger_postings g on g.entry_id = e.id and g.account = 'processor'
		group by p.id, p.state, p.amount_minor
		having sum(g.amount_minor) <> if(p.state in ('captured', 'won'), p.amount_minor, 0)`,
	'another currency than the payment’s': `select distinct e.id from ledger_entries e join payments p on p.id = e.payment_id
		join ledger_postings g on g.entry_id = e.id where g.currency <> p.currency`,
	'entries without a document': `select e.id from ledger_entries e
		left join receipts r on r.payment_id = e.payment_id and r.kind = e.kind where r.id is null`,
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
