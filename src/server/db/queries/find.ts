import { and, eq, inArray, isNotNull, isNull, like, or } from 'drizzle-orm';
import { normaliseCode } from '$core/access/batches';
import { COLLECTION_KINDS, isCollection, RESOURCE_KINDS, type ResourceKind } from '$core/access/model';
import type { Handle } from '../connect';
import { codeBatches, codes, fences } from '../schema/access';
import { items } from '../schema/library';
import { accounts } from '../schema/people';
import { orders, plans } from '../schema/sales';
import { ofTitle, titles } from './items';
import { containing } from './library';

const EACH = 6;

export interface Found {
	id: string;
	kind: string;
	label: string;
	detail: string;
	href: string;
	/** Of an item or collection: where it lives. */
	homeId?: string | null;
}

/** What may be looked for: `collection` are places of any kind that things live in; pages, and each kind of place, by name. */
export const FIND_KINDS = [
	'member',
	'item',
	'collection',
	'page',
	...COLLECTION_KINDS,
	'plan',
	'code',
	'label',
	'fence',
	'order'
] as const;
export type FindKind = (typeof FIND_KINDS)[number];

/** What the command field looks for. */
export const ANYTHING: readonly FindKind[] = [
	'member',
	'item',
	'collection',
	'plan',
	'code',
	'label',
	'fence',
	'order'
];

/** Whatever at the Desk carries a text in its name, address or number. */
export async function findAnything(db: Handle, text: string, kinds: readonly FindKind[]): Promise<Found[]> {
	const wanted = containing(text.trim());
	const wants = (kind: FindKind) => kinds.includes(kind);
	const [people, found, offered, coded, labelled, closed, ordered] = await Promise.all([
		wants('member') ? members(db, wanted) : [],
		kindsOfThings(kinds).length > 0 ? things(db, wanted, kindsOfThings(kinds)) : [],
		wants('plan')
			? db
					.select()
					.from(plans)
					.where(and(like(plans.name, wanted), eq(plans.isLabel, false)))
					.limit(EACH)
			: [],
		wants('code') ? batches(db, wanted, text) : [],
		wants('label') ? labels(db, wanted) : [],
		wants('fence') ? db.select().from(fences).where(like(fences.name, wanted)).limit(EACH) : [],
		wants('order') ? bought(db, wanted) : []
	]);
	return [
		...people.map(({ id, name, email }) => ({
			id,
			kind: 'Member',
			label: name,
			detail: email ?? '',
			href: `/desk/members/${id}`
		})),
		...found.map(({ id, title, kind, address, homeId }) => ({
			id,
			homeId,
			kind: kind.replace(/^./, (c) => c.toUpperCase()),
			label: title,
			detail: address ?? '',
			href: `/desk/library/${id}`
		})),
		...offered.map(({ id, name }) => ({
			id,
			kind: 'Plan',
			label: name,
			detail: '',
			href: `/desk/plans/${id}`
		})),
		...coded.map(({ id, name }) => ({
			id,
			kind: 'Codes',
			label: name,
			detail: '',
			href: `/desk/codes/${id}`
		})),
		...labelled.map(({ id, name }) => ({
			id,
			kind: 'Label',
			label: name,
			detail: 'on members',
			href: `/desk/members?label=${id}`
		})),
		...closed.map(({ id, name, isOn }) => ({
			id,
			kind: 'Fence',
			label: name,
			detail: isOn ? 'on' : 'off',
			href: `/desk/fences/${id}`
		})),
		...ordered.map(({ id, number, state }) => ({
			id,
			kind: 'Order',
			label: number,
			detail: state,
			href: `/desk/sales/${id}`
		}))
	];
}

function members(db: Handle, wanted: string) {
	return db
		.select()
		.from(accounts)
		.where(
			and(
				isNull(accounts.deletedAt),
				isNotNull(accounts.email),
				eq(accounts.role, 'member'),
				or(like(accounts.name, wanted), like(accounts.email, wanted))
			)
		)
		.limit(EACH);
}

/** By their name, or by one of the codes as it is typed. */
function batches(db: Handle, wanted: string, text: string) {
	const ofCode = db
		.select({ id: codes.batchId })
		.from(codes)
		.where(eq(codes.code, normaliseCode(text)));
	return db
		.select({ id: codeBatches.id, name: codeBatches.name })
		.from(codeBatches)
		.where(or(like(codeBatches.name, wanted), inArray(codeBatches.id, ofCode)))
		.limit(EACH);
}

function labels(db: Handle, wanted: string) {
	return db
		.select({ id: plans.id, name: plans.name })
		.from(plans)
		.where(and(eq(plans.isLabel, true), like(plans.name, wanted)))
		.limit(EACH);
}

/** Orders of members: what a stranger has not paid is nobody's. */
function bought(db: Handle, wanted: string) {
	return db
		.select()
		.from(orders)
		.where(and(isNotNull(orders.memberId), like(orders.number, wanted)))
		.limit(EACH);
}

function kindsOfThings(kinds: readonly FindKind[]): ResourceKind[] {
	return RESOURCE_KINDS.filter((kind) =>
		isCollection(kind)
			? kinds.includes('collection') || kinds.includes(kind)
			: kinds.includes('item') || (kind === 'page' && kinds.includes('page'))
	);
}

function things(db: Handle, wanted: string, kinds: readonly ResourceKind[]) {
	return db
		.select({
			id: items.id,
			title: titles.plain,
			kind: items.kind,
			address: items.address,
			homeId: items.homeId
		})
		.from(items)
		.innerJoin(titles, ofTitle)
		.where(and(inArray(items.kind, [...kinds]), or(like(titles.plain, wanted), like(items.address, wanted))))
		.limit(EACH * 2);
}
