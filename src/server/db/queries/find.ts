import { and, isNotNull, isNull, like, or } from 'drizzle-orm';
import type { Handle } from '../connect';
import { fences } from '../schema/access';
import { items } from '../schema/library';
import { accounts } from '../schema/people';
import { orders, plans } from '../schema/sales';
import { containing } from './library';

const EACH = 6;

export interface Found {
	id: string;
	kind: string;
	label: string;
	detail: string;
	href: string;
}

/** Whatever at the Desk carries a text in its name, address or number. */
export async function findAnything(db: Handle, text: string): Promise<Found[]> {
	const wanted = containing(text.trim());
	const [members, found, offered, closed, bought] = await Promise.all([
		db
			.select()
			.from(accounts)
			.where(
				and(
					isNull(accounts.deletedAt),
					isNotNull(accounts.email),
					or(like(accounts.name, wanted), like(accounts.email, wanted))
				)
			)
			.limit(EACH),
		db
			.select()
			.from(items)
			.where(or(like(items.title, wanted), like(items.address, wanted)))
			.limit(EACH),
		db.select().from(plans).where(like(plans.name, wanted)).limit(EACH),
		db.select().from(fences).where(like(fences.name, wanted)).limit(EACH),
		db.select().from(orders).where(like(orders.number, wanted)).limit(EACH)
	]);
	return [
		...members.map(({ id, name, email }) => ({
			id,
			kind: 'Member',
			label: name,
			detail: email ?? '',
			href: `/desk/members/${id}`
		})),
		...found.map(({ id, title, address }) => ({
			id,
			kind: 'Item',
			label: title,
			detail: address,
			href: `/desk/library/${id}`
		})),
		...offered.map(({ id, name }) => ({
			id,
			kind: 'Plan',
			label: name,
			detail: '',
			href: `/desk/plans/${id}`
		})),
		...closed.map(({ id, name, isOn }) => ({
			id,
			kind: 'Fence',
			label: name,
			detail: isOn ? 'on' : 'off',
			href: `/desk/fences/${id}`
		})),
		...bought.map(({ id, number, state }) => ({
			id,
			kind: 'Order',
			label: number,
			detail: state,
			href: `/desk/sales/${id}`
		}))
	];
}
