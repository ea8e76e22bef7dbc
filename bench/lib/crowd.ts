/** A large school: many items, plans, fences, members and payments, written at once and not through every use case. */
import { v7 as uuidv7 } from 'uuid';
import { NO_LIMITS, type Selector, type Window } from '../../src/core/access/model';
import type { App } from '../../src/server/app';
import type { Tx } from '../../src/server/db/connect';
import {
	codeBatches,
	codes,
	crossings,
	fences,
	grants,
	releases,
	tenures,
	uses
} from '../../src/server/db/schema/access';
import {
	assets,
	categories,
	itemPictures,
	items,
	itemTags,
	itemTexts,
	placements,
	tags
} from '../../src/server/db/schema/library';
import { accounts, sessions } from '../../src/server/db/schema/people';
import { audit, jobs, sentMails } from '../../src/server/db/schema/running';
import {
	ledgerEntries,
	ledgerPostings,
	orderLines,
	orders,
	payments,
	plans,
	prices,
	priceVersions,
	documents,
	agreements
} from '../../src/server/db/schema/sales';
import { transact } from '../../src/server/transact';
import { seeded } from './report';
import { renewingTerms } from '../../src/core/billing/terms';

/** Of the n-th plan. */
const priceOf = (n: number) =>
	renewingTerms({ minor: 900 + 100 * n, currency: 'EUR' }, { count: 1, unit: 'month' });
const DAY_MS = 86_400_000;
const LESSONS_OF_SECTION = 20;
const SECTIONS_OF_COURSE = 5;
const PLANS = 12;
const FENCES = 150;
const CATEGORIES = 20;
const TAGS = 60;
const BATCHES = 20;
const AT_ONCE = 1000;

export interface Crowd {
	planIds: string[];
	courseIds: string[];
	sectionIds: string[];
	itemIds: string[];
	fenceIds: string[];
	categoryIds: string[];
	tagIds: string[];
	memberIds: string[];
	orderIds: string[];
	batchId: string;
}

type Rows = Record<string, unknown>[];

/** @param size about so many items, and so many subscribers with a paid order each */
export async function makeCrowd(app: App, size: { items: number; members: number }): Promise<Crowd> {
	const pick = seeded(7);
	const one = <T>(list: readonly T[]): T => list[pick(list.length)] as T;
	const now = app.clock.business();
	const shop = shopOf(now);
	const library = libraryOf(now, size.items, shop, pick);
	const access = accessOf(now, shop, library);
	await transact(app, null, async ({ tx, policyChanged }) => {
		for (const [table, rows] of [...shop.rows, ...library.rows, ...access.rows]) await write(tx, table, rows);
		policyChanged('many at once', {
			resources: library.items.map(({ id }) => id),
			fences: access.fenceIds,
			plans: shop.planIds,
			releases: access.releaseIds
		});
	});
	const people = peopleOf(now, size.members, shop, library, one);
	for (const [table, rows] of people.rows) await app.db.transaction((tx) => write(tx, table, rows));
	return {
		planIds: shop.planIds,
		courseIds: library.courseIds,
		sectionIds: library.sectionIds,
		itemIds: library.itemIds,
		fenceIds: access.fenceIds,
		categoryIds: library.categoryIds,
		tagIds: library.tagIds,
		memberIds: people.memberIds,
		orderIds: people.orderIds,
		batchId: people.batchId
	};
}

type Table = Parameters<Tx['insert']>[0];

async function write(tx: Tx, table: Table, rows: Rows): Promise<void> {
	for (let n = 0; n < rows.length; n += AT_ONCE) await tx.insert(table).values(rows.slice(n, n + AT_ONCE));
}

interface Shop {
	planIds: string[];
	versionIds: string[];
	rows: [Table, Rows][];
}

function shopOf(now: number): Shop {
	const planIds = many(PLANS);
	const priceIds = many(PLANS);
	const versionIds = many(PLANS);
	return {
		planIds,
		versionIds,
		rows: [
			[
				plans,
				planIds.map((id, n) => ({
					id,
					name: `Workshop ${n}`,
					slug: `workshop-${n}`,
					lines: [`What plan ${n} opens`],
					isPublic: true,
					isOnSale: true,
					afterLapse: 'on',
					createdAt: now + n
				}))
			],
			[prices, priceIds.map((id, n) => ({ id, planId: planIds[n], isOnSale: true }))],
			[
				priceVersions,
				versionIds.map((id, n) => ({
					id,
					priceId: priceIds[n],
					version: 1,
					terms: priceOf(n),
					createdAt: now
				}))
			]
		]
	};
}

function libraryOf(now: number, count: number, shop: Shop, pick: (below: number) => number) {
	const categoryIds = many(CATEGORIES);
	const tagIds = many(TAGS);
	const all: (Rows[number] & { id: string })[] = [];
	const courseIds: string[] = [];
	const sectionIds: string[] = [];
	const itemIds: string[] = [];
	const add = (kind: string, title: string, more: Record<string, unknown>) => {
		const id = uuidv7();
		all.push({
			id,
			kind,
			title,
			description: `${title}, with words that say what is in it and what one needs to know before.`,
			address: null,
			state: 'published',
			base: 'closed',
			showsPoster: true,
			createdAt: now - (count - all.length) * 60_000,
			changedAt: now,
			...more
		});
		return id;
	};
	for (let course = 0; all.length < count * 0.85; course++) {
		const at = `/courses/course-${course}`;
		const courseId = add('course', `Course ${course}: wheels and trains`, {
			address: at,
			categoryId: categoryIds[course % CATEGORIES]
		});
		courseIds.push(courseId);
		for (let section = 0; section < SECTIONS_OF_COURSE; section++) {
			const homeId = add('section', `Part ${section}`, { homeId: courseId, position: section });
			sectionIds.push(homeId);
			for (let lesson = 0; lesson < LESSONS_OF_SECTION; lesson++)
				itemIds.push(
					add('lesson', `Lesson ${section}.${lesson} of course ${course}: the escapement`, {
						address: `${at}/part-${section}/lesson-${lesson}`,
						homeId,
						position: lesson
					})
				);
		}
	}
	for (let n = 0; all.length < count; n++) {
		const kind = n % 3 === 0 ? 'file' : 'video';
		itemIds.push(
			add(kind, `${kind === 'file' ? 'Drawing' : 'Film'} ${n}: a pendulum`, {
				address: `/${kind}s/wheel-${n}`,
				categoryId: categoryIds[n % CATEGORIES],
				...(kind === 'file' ? { extension: 'pdf' } : {})
			})
		);
	}
	const shown = all.filter(({ kind }) => kind === 'video' || kind === 'file');
	const assetIds = many(shown.length);
	return {
		items: all,
		courseIds,
		sectionIds,
		itemIds,
		categoryIds,
		tagIds,
		rows: [
			[categories, categoryIds.map((id, n) => ({ id, name: `Category ${n}`, slug: `category-${n}` }))],
			[tags, tagIds.map((id, n) => ({ id, name: `Tag ${n}`, slug: `tag-${n}` }))],
			[items, all],
			[
				itemTexts,
				all.flatMap(({ id: itemId, title, description }) => [
					{ itemId, language: 'en', field: 'title', plain: title },
					{ itemId, language: 'en', field: 'text', plain: description }
				])
			],
			[itemPictures, all.map(({ id: itemId, showsPoster }) => ({ itemId, isShownToAll: showsPoster }))],
			[itemTags, itemIds.flatMap((itemId) => (pick(3) === 0 ? [{ itemId, tagId: tagIds[pick(TAGS)] }] : []))],
			[
				assets,
				shown.map(({ kind }, n) => ({
					id: assetIds[n],
					kind,
					fileName: `wheel-${n}.${kind === 'file' ? 'pdf' : 'mp4'}`,
					originalKey: `originals/wheel-${n}`,
					bytes: 1_000_000,
					seconds: 600,
					width: 1280,
					height: 720,
					hasSound: true,
					state: 'ready',
					createdAt: now
				}))
			],
			[placements, shown.map(({ id }, n) => ({ itemId: id, assetId: assetIds[n] }))]
		] as [Table, Rows][]
	};
}

function accessOf(now: number, shop: Shop, library: ReturnType<typeof libraryOf>) {
	const { courseIds, itemIds, categoryIds, tagIds } = library;
	const selectorOf = (n: number): Selector => {
		const courseId = courseIds[n];
		if (courseId !== undefined)
			return { kind: 'within', collectionId: courseId, withPage: false, extensions: [] };
		if (n % 3 === 0) return { kind: 'category', categoryId: categoryIds[n % CATEGORIES] ?? '' };
		if (n % 3 === 1) return { kind: 'tag', tagId: tagIds[n % TAGS] ?? '' };
		return { kind: 'items', itemIds: itemIds.slice(n * 5, n * 5 + 5) };
	};
	const fenceIds = many(FENCES);
	const releaseIds = many(Math.min(300, library.sectionIds.length));
	const after = (days: number): Window => ({
		opens: { kind: 'after', count: days, unit: 'day' },
		closes: { kind: 'never' }
	});
	return {
		fenceIds,
		releaseIds,
		rows: [
			[
				fences,
				fenceIds.map((id, n) => ({
					id,
					name: `Fence ${n}`,
					isOn: true,
					mode: 'adds',
					selector: selectorOf(n),
					turnAway: null,
					listing: 'shown',
					createdAt: now + n
				}))
			],
			[
				crossings,
				fenceIds.flatMap((fenceId, n) =>
					[0, 1].map((position) => ({
						fenceId,
						position,
						audience: { kind: 'holders', planIds: [shop.planIds[(n + position) % PLANS]] },
						window: null,
						limits: NO_LIMITS,
						isThroughout: false
					}))
				)
			],
			[
				releases,
				releaseIds.map((id, n) => ({
					id,
					planId: shop.planIds[n % PLANS],
					targetKind: 'resource',
					targetId: library.sectionIds[n],
					window: after(7 * (n % 30))
				}))
			]
		] as [Table, Rows][]
	};
}

function peopleOf(
	now: number,
	count: number,
	shop: Shop,
	library: ReturnType<typeof libraryOf>,
	one: <T>(list: readonly T[]) => T
) {
	const memberIds = many(count);
	const orderIds = many(count);
	const lineIds = many(count);
	const grantIds = many(count);
	const agreementIds = many(count);
	const paymentIds = many(count * 2);
	const entryIds = many(count * 2);
	const batchIds = many(BATCHES);
	const joined = (n: number) => now - (n % 700) * DAY_MS;
	const plan = (n: number) => n % PLANS;
	const amount = (n: number) => 900 + 100 * plan(n);
	const each = <T>(make: (n: number) => T): T[] => Array.from({ length: count }, (_, n) => make(n));
	const eachPayment = <T>(make: (n: number, period: number, id: string) => T): T[] =>
		paymentIds.map((id, p) => make(p % count, Math.floor(p / count), id));
	const rows: [Table, Rows][] = [
		[
			accounts,
			each((n) => ({
				id: memberIds[n],
				email: `member.${n}@mail.example`,
				name: `Member Number ${n}`,
				role: 'member',
				claimedAt: joined(n),
				provedAt: joined(n),
				createdAt: joined(n)
			}))
		],
		[
			orders,
			each((n) => ({
				id: orderIds[n],
				number: `C-${n}`,
				memberId: memberIds[n],
				state: 'paid',
				totalMinor: amount(n),
				currency: 'EUR',
				deviceHash: '0'.repeat(64),
				createdAt: joined(n),
				paidAt: joined(n)
			}))
		],
		[
			orderLines,
			each((n) => ({
				id: lineIds[n],
				orderId: orderIds[n],
				planId: shop.planIds[plan(n)],
				priceVersionId: shop.versionIds[plan(n)],
				text: 'Workshop',
				amountMinor: amount(n),
				totalMinor: amount(n)
			}))
		],
		[
			grants,
			each((n) => ({
				id: grantIds[n],
				memberId: memberIds[n],
				planId: shop.planIds[plan(n)],
				from: joined(n),
				until: n % 5 === 0 ? joined(n) + 30 * DAY_MS : now + 30 * DAY_MS,
				source: 'order',
				orderLineId: lineIds[n]
			}))
		],
		[
			tenures,
			each((n) => ({ memberId: memberIds[n], planId: shop.planIds[plan(n)], firstJoinedAt: joined(n) }))
		],
		[
			agreements,
			each((n) => ({
				id: agreementIds[n],
				memberId: memberIds[n],
				planId: shop.planIds[plan(n)],
				orderLineId: lineIds[n],
				priceVersionId: shop.versionIds[plan(n)],
				agreed: { planId: shop.planIds[plan(n)], terms: priceOf(plan(n)), access: { kind: 'while-paid' } },
				periodUnit: 'month',
				periodCount: 1,
				grantId: grantIds[n],
				cardRef: `card-${n}`,
				anchor: joined(n),
				zone: 'Europe/Vienna',
				state: n % 5 === 0 ? 'ended' : 'running',
				period: 1,
				attempt: 0,
				...(n % 5 === 0 ? { endReason: 'unpaid', endedAt: joined(n) + 30 * DAY_MS } : {})
			}))
		],
		[
			payments,
			eachPayment((n, period, id) => ({
				id,
				memberId: memberIds[n],
				orderId: orderIds[n],
				agreementId: period === 0 ? null : agreementIds[n],
				period,
				attempt: 1,
				idempotencyKey: `crowd-${n}-${period}`,
				processorRef: `crowd-ref-${n}-${period}`,
				state: 'captured',
				amountMinor: amount(n),
				currency: 'EUR',
				createdAt: joined(n) + period * DAY_MS,
				settledAt: joined(n) + period * DAY_MS
			}))
		],
		[
			sentMails,
			eachPayment((n, period, id) => ({
				id,
				memberId: memberIds[n],
				address: `member.${n}@mail.example`,
				subject: 'Workshop is open for you',
				...(n % 40 === 0 && period > 0
					? { fate: 'gone', fateCode: '5.1.1', fateWords: 'No such user', fateAt: joined(n) }
					: { fate: 'sent', fateCode: null, fateWords: null, fateAt: null }),
				at: joined(n) + period * DAY_MS
			}))
		],
		[
			documents,
			eachPayment((n, period, paymentId) => ({
				number: `CR-${n}-${period}`,
				kind: 'receipt',
				source: `payment:${paymentId}`,
				paymentId,
				memberId: memberIds[n],
				amountMinor: amount(n),
				currency: 'EUR',
				content: {
					seller: { name: 'Fernhollow Clock School', statementName: 'FERNHOLLOW' },
					buyer: { name: `Member Number ${n}`, email: `member.${n}@mail.example` },
					lines: [{ text: `Workshop ${plan(n)}`, amountMinor: amount(n) }]
				},
				issuedAt: joined(n)
			}))
		],
		[
			ledgerEntries,
			eachPayment((n, period, paymentId) => ({
				id: entryIds[period * count + n],
				at: joined(n),
				kind: 'payment',
				source: `payment:${paymentId}`,
				paymentId
			}))
		],
		[
			ledgerPostings,
			eachPayment((n, period) => [
				{
					entryId: entryIds[period * count + n],
					account: 'processor',
					amountMinor: amount(n),
					currency: 'EUR'
				},
				{ entryId: entryIds[period * count + n], account: 'sales', amountMinor: -amount(n), currency: 'EUR' }
			]).flat()
		],
		[
			audit,
			each((n) => ({
				wallAt: joined(n),
				businessAt: joined(n),
				actorId: null,
				action: n % 2 === 0 ? 'granted' : 'proved-mailbox',
				subjectKind: 'account',
				subjectId: memberIds[n],
				memberId: memberIds[n],
				after: { planId: shop.planIds[plan(n)] }
			}))
		],
		[
			sessions,
			each((n) => ({
				tokenHash: n.toString(16).padStart(64, '0'),
				accountId: memberIds[n],
				createdAt: now,
				expiresAt: now + 30 * DAY_MS
			}))
		],
		[
			uses,
			each((n) => ({
				itemId: one(library.itemIds),
				memberId: memberIds[n],
				at: now - DAY_MS,
				goesOnUntil: now
			}))
		],
		[
			jobs,
			[
				...each((n) => ({
					lane: 'mail',
					kind: 'mail',
					payload: {},
					runAt: joined(n),
					state: 'done',
					subjectId: null,
					memberId: memberIds[n],
					createdAt: now - (n % 6) * DAY_MS
				})),
				// The next step of each agreement that goes on.
				...each((n) => ({
					lane: 'billing',
					kind: 'agreement-event',
					payload: { agreementId: agreementIds[n], event: { kind: 'period-over', period: 1 } },
					runAt: now + 30 * DAY_MS,
					state: n % 5 === 0 ? 'done' : 'waiting',
					subjectId: agreementIds[n],
					memberId: memberIds[n],
					createdAt: now - (n % 6) * DAY_MS
				}))
			]
		],
		[
			codeBatches,
			batchIds.map((id, n) => ({ id, name: `Fair ${n}`, planId: shop.planIds[0], createdAt: now + n }))
		],
		[codes, each((n) => ({ batchId: batchIds[n % BATCHES], code: `FAIR${n}` }))]
	];
	return { memberIds, orderIds, batchId: batchIds[0] ?? '', rows };
}

function many(count: number): string[] {
	return Array.from({ length: count }, () => uuidv7());
}
