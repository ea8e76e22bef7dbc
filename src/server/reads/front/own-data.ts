/**
 * All that is kept of a member by their name, for them to take along: plain JSON, moments in ISO 8601, amounts in minor units
 * with their ISO 4217 code. Of labels and notes of staff the Desk gives word on request.
 */
import { asc, eq } from 'drizzle-orm';
import type { Using } from '../../app';
import { callsAbout } from '../../db/queries/listeners';
import { giftsBy } from '../../db/queries/gifts';
import { planNames, linesOfOrder } from '../../db/queries/sales';
import { allTitles } from '../../db/queries/library';
import { accountById } from '../../db/queries/members';
import { factorOf } from '../../db/queries/second-factors';
import { codes, grants, linkOpenings, redemptions, uses } from '../../db/schema/access';
import { positions } from '../../db/schema/library';
import { sessions } from '../../db/schema/people';
import { sentMails } from '../../db/schema/running';
import {
	agreements,
	cards,
	documents,
	orders,
	payments,
	plans,
	seats,
	waitingList
} from '../../db/schema/sales';

const VERSION = 1;

export async function ownData(app: Using<'clock' | 'db' | 'site'>, memberId: string) {
	const account = await accountById(app.db, memberId);
	if (!account) return null;
	const { email, name, createdAt, provedAt, passwordHash } = account;
	const [bought, opened, rest] = await Promise.all([
		boughtBy(app, memberId),
		openedBy(app, memberId),
		others(app, memberId, email)
	]);
	return {
		format: 'stile-own-data',
		version: VERSION,
		site: (await app.site()).siteName,
		madeAt: iso(app.clock.wall()),
		account: {
			...{ email, name, joinedAt: iso(createdAt) },
			...{ mailboxProvedAt: iso(provedAt), hasPassword: passwordHash !== null },
			language: account.language,
			wantsReminders: account.remindersOffAt === null,
			asksForCode: (await factorOf(app.db, memberId)) !== null
		},
		...bought,
		...opened,
		...rest
	};
}

export type OwnData = NonNullable<Awaited<ReturnType<typeof ownData>>>;

const iso = (at: number | null) => (at === null ? null : new Date(at).toISOString());

async function boughtBy({ db }: Using<'db'>, memberId: string) {
	const gave = await giftsBy(db, memberId);
	const [held, agreed, ordered, paid, papers] = await Promise.all([
		db
			.select({ grant: grants, isLabel: plans.isLabel })
			.from(grants)
			.leftJoin(plans, eq(plans.id, grants.planId))
			.where(eq(grants.memberId, memberId))
			.orderBy(asc(grants.from)),
		db.select().from(agreements).where(eq(agreements.memberId, memberId)).orderBy(asc(agreements.anchor)),
		db.select().from(orders).where(eq(orders.memberId, memberId)).orderBy(asc(orders.createdAt)),
		db.select().from(payments).where(eq(payments.memberId, memberId)).orderBy(asc(payments.createdAt)),
		db.select().from(documents).where(eq(documents.memberId, memberId)).orderBy(asc(documents.issuedAt))
	]);
	const ids = [...held.map(({ grant }) => grant.planId), ...agreed.map(({ planId }) => planId)];
	const names = await planNames(db, ids);
	const plan = (id: string) => names.get(id) ?? null;
	// What somebody else has paid is theirs to know.
	const given = new Set(held.flatMap(({ grant }) => (grant.source === 'gift' ? [grant.id] : [])));
	const numbers = new Map(ordered.map(({ id, number }) => [id, number]));
	return {
		access: held
			.filter(({ isLabel }) => !isLabel)
			.map(({ grant }) => ({
				...{ plan: plan(grant.planId), from: iso(grant.from), until: iso(grant.until) },
				...{ takenBackAt: iso(grant.revokedAt), source: grant.source }
			})),
		agreements: agreed.map((one) => ({
			...{ plan: plan(one.planId), begunAt: iso(one.anchor), state: one.state },
			terms: given.has(one.grantId) ? null : one.agreed.terms,
			...{ paidThrough: iso(one.paidThrough), nextAt: iso(one.nextAt), nextMinor: one.nextMinor },
			...{ taxedAs: one.tax?.buyer ?? null },
			...{ endedAt: iso(one.endedAt), cancelledAt: iso(one.cancelledAt) },
			...{ cancelReason: one.cancelWhy, cancelWords: one.cancelWords }
		})),
		orders: await Promise.all(
			ordered.map(async (one) => {
				const lines = await linesOfOrder(db, one.id);
				return {
					...{ number: one.number, state: one.state, at: iso(one.createdAt), paidAt: iso(one.paidAt) },
					...{ totalMinor: one.totalMinor, currency: one.currency, seats: one.seats },
					discount: lines.find(({ discount }) => discount !== null)?.discount ?? null,
					...{ tax: one.tax, sentTo: one.postal },
					lines: lines.map(({ text, kind, amountMinor, discount, discountMinor, taxMinor, totalMinor }) => ({
						...{ text, kind, amountMinor, discount, discountMinor, taxMinor, totalMinor }
					}))
				};
			})
		),
		giftsGiven: gave.map((one) => ({
			...{ plan: one.planName, for: one.email, words: one.words, state: one.state },
			...{ toldAt: iso(one.toldAt), openedAt: iso(one.openedAt) }
		})),
		payments: paid.map((one) => ({
			...{ order: numbers.get(one.orderId) ?? null, at: iso(one.createdAt), settledAt: iso(one.settledAt) },
			...{ state: one.state, amountMinor: one.amountMinor, currency: one.currency },
			...{ refundedMinor: one.refundedMinor, dispute: one.dispute, by: one.processor }
		})),
		documents: papers.map(({ number, kind, corrects, amountMinor, currency, content, ...one }) => ({
			...{ number, kind, corrects, amountMinor, currency, content, issuedAt: iso(one.issuedAt) },
			...{ taxMinor: one.taxMinor, taxCountry: one.taxCountry, taxRate: one.taxRate }
		}))
	};
}

async function openedBy({ db }: Using<'db'>, memberId: string) {
	const [used, places, from, titles] = await Promise.all([
		db.select().from(uses).where(eq(uses.memberId, memberId)).orderBy(asc(uses.at)),
		db.select().from(positions).where(eq(positions.memberId, memberId)).orderBy(asc(positions.changedAt)),
		db
			.select()
			.from(linkOpenings)
			.where(eq(linkOpenings.memberId, memberId))
			.orderBy(asc(linkOpenings.firstAt)),
		allTitles(db)
	]);
	const known = new Map(titles.map(({ id, title, address }) => [id, { title, address }]));
	const what = (itemId: string) => known.get(itemId) ?? { title: null, address: null };
	return {
		opened: used.map(({ itemId, at }) => ({ ...what(itemId), at: iso(at) })),
		placesInFilms: places.map(({ itemId, seconds, changedAt }) => ({
			...{ ...what(itemId), seconds, at: iso(changedAt) }
		})),
		linksOpenedFrom: from.map(({ itemId, network, requests, firstAt, lastAt }) => ({
			...{ ...what(itemId), network, requests, firstAt: iso(firstAt), lastAt: iso(lastAt) }
		}))
	};
}

async function others({ db }: Using<'db'>, memberId: string, email: string | null) {
	const [kept, signedIn, redeemed, mailed, told, waits, gave] = await Promise.all([
		db.select().from(cards).where(eq(cards.memberId, memberId)),
		db.select().from(sessions).where(eq(sessions.accountId, memberId)),
		db
			.select({ code: codes.code, at: redemptions.at })
			.from(redemptions)
			.innerJoin(codes, eq(codes.id, redemptions.codeId))
			.where(eq(redemptions.memberId, memberId))
			.orderBy(asc(redemptions.at)),
		db.select().from(sentMails).where(eq(sentMails.memberId, memberId)).orderBy(asc(sentMails.at)),
		callsAbout(db, memberId),
		db
			.select({ plan: plans.name, at: waitingList.at, toldAt: waitingList.toldAt })
			.from(waitingList)
			.innerJoin(plans, eq(plans.id, waitingList.planId))
			.where(eq(waitingList.email, email ?? ''))
			.orderBy(asc(waitingList.at)),
		db
			.select({
				email: seats.email,
				invitedAt: seats.invitedAt,
				joinedAt: seats.joinedAt,
				endedAt: seats.endedAt
			})
			.from(seats)
			.innerJoin(agreements, eq(agreements.id, seats.agreementId))
			.where(eq(agreements.memberId, memberId))
			.orderBy(asc(seats.invitedAt))
	]);
	return {
		mails: mailed.map(({ address, subject, at, fate }) => ({
			to: address,
			subject,
			at: iso(at),
			became: fate
		})),
		cards: kept.map(({ ending, expires, createdAt }) => ({ ending, expires, since: iso(createdAt) })),
		signedIn: signedIn.map(({ begunBy, createdAt, expiresAt }) => ({
			...{ by: begunBy, since: iso(createdAt), until: iso(expiresAt) }
		})),
		/** Programs of the publisher's that were told of it. */
		told: told.map(({ program, event, at }) => ({ program, event, at: iso(at) })),
		seatsGiven: gave.map((one) => ({
			...{ to: one.email, at: iso(one.invitedAt), takenAt: iso(one.joinedAt), takenBackAt: iso(one.endedAt) }
		})),
		waitsFor: waits.map(({ plan, at, toldAt }) => ({ plan, since: iso(at), toldAt: iso(toldAt) })),
		codes: redeemed.map(({ code, at }) => ({ code, at: iso(at) }))
	};
}
