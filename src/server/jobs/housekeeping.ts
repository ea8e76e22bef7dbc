/** What is done every hour: reconciliation, and forgetting what nobody needs. */
import { and, eq, isNotNull, lt } from 'drizzle-orm';
import type { App } from '../app';
import { linkOpenings, rehearsals, rightsChanges } from '../db/schema/access';
import { addressChanges, halfSignIns, joinLinks, sessions, signInLinks } from '../db/schema/people';
import { audit, LOOKED, sentMails } from '../db/schema/running';
import { notifications, seats, waitingList } from '../db/schema/sales';
import { keepBase } from '../db/queries/policy';
import { forgetOldWindows } from '../people/rate-limit';
import { forgetUnfinished } from '../http/uploads';
import { CHANGES_KEPT_MS } from '../rights/rights';
import { readReturns } from '../usecases/mail/returns';
import { tellPlaces } from '../usecases/running/tell-listeners';
import { lookAtSenderDaily } from '../usecases/running/senders';
import { tellStaff } from '../usecases/running/tell-staff';
import { forgetCalls } from '../db/queries/listeners';
import { forgetTold } from '../db/queries/telling';
import { forgetPaces } from '../usecases/library/key-pace';
import { expireAsked } from '../usecases/sales/answer-payment';
import { forgetCardPages } from '../usecases/sales/change-card';
import { keepMissingIncome } from '../usecases/sales/keep-missing-income';
import { expireOrders, forgetStrangersOrders } from '../usecases/sales/end-pay-page';
import { tellAllWaiting } from '../usecases/sales/waiting-list';
import { reconcile } from '../usecases/sales/reconcile';
import { forgetDone } from './queue';

const MINUTE_MS = 60_000;
const HOUR_MS = 60 * MINUTE_MS;
const DAY_MS = 24 * HOUR_MS;

/** Mail servers do not like to be asked more often. */
const BOX_EVERY_MS = 5 * MINUTE_MS;

/** How long is kept what only grows, by the wall clock. docs/operations.md says the same. */
const KEPT_MS = {
	doneJobs: 7 * DAY_MS,
	onceKeys: 800 * DAY_MS,
	spentLinks: 30 * DAY_MS,
	rehearsals: DAY_MS,
	notifications: 90 * DAY_MS,
	linkOpenings: 180 * DAY_MS,
	/** As long as a bank takes a payment back at the latest: 540 days (common practice, no source). */
	sentMails: 540 * DAY_MS,
	calls: 90 * DAY_MS,
	tellings: 30 * DAY_MS,
	looks: 180 * DAY_MS,
	/** Those who were told. */
	waitingList: 30 * DAY_MS,
	/** Addresses of seats that were taken back. */
	seats: 180 * DAY_MS
};

/** Starts the hourly round; the function it gives ends it. */
export function startHousekeeping(app: App, receiveLeft: () => Promise<unknown>): () => void {
	const hourly = setInterval(() => void round(app), HOUR_MS);
	const often = setInterval(() => void look(), MINUTE_MS);
	const box = setInterval(() => void readBox(), BOX_EVERY_MS);
	// What an update has brought is worked out at once.
	void keepMissingIncome(app).catch((error: unknown) =>
		app.log.warn({ err: error }, 'recurring income could not be worked out')
	);
	const look = async () => {
		await receiveLeft().catch((error: unknown) =>
			app.log.warn({ err: error }, 'uploads could not be looked at')
		);
		await tellPlaces(app).catch((error: unknown) =>
			app.log.warn({ err: error }, 'programs could not be told')
		);
		await tellStaff(app).catch((error: unknown) => app.log.warn({ err: error }, 'staff could not be told'));
	};
	/** One after the other: a mailbox that answers slowly is not asked again meanwhile. */
	let isReading = false;
	const readBox = async () => {
		if (app.returns === null || isReading) return;
		isReading = true;
		try {
			await readReturns(app, app.returns);
		} catch (error) {
			app.log.warn({ err: error }, 'the mailbox of reports could not be read');
		} finally {
			isReading = false;
		}
	};
	return () => {
		clearInterval(hourly);
		clearInterval(often);
		clearInterval(box);
	};
}

type Parts = Record<string, () => Promise<unknown>>;

export async function round(app: App): Promise<void> {
	await eachPart(app, { ...partsOfBook(app), ...partsOfSite(app) });
}

/** The same of the practice book: of what it shares with the site, the site looks itself. */
export function startPracticeRounds(app: App): () => void {
	const hourly = setInterval(() => void eachPart(app, partsOfBook(app)), HOUR_MS);
	return () => clearInterval(hourly);
}

/** Each part by itself: one that fails does not keep the others from being done. */
async function eachPart(app: App, parts: Parts): Promise<void> {
	for (const [part, work] of Object.entries(parts))
		await work().catch((error: unknown) => app.log.warn({ err: error, part }, 'housekeeping failed'));
}

/** People, sales and what is done for them. */
function partsOfBook(app: App): Parts {
	const wallNow = app.clock.wall();
	return {
		reconcile: () => reconcile(app),
		expireOrders: () => expireOrders(app),
		expireAsked: () => expireAsked(app),
		forgetStrangersOrders: () => forgetStrangersOrders(app),
		cardPages: () => forgetCardPages(app),
		rateWindows: () => forgetOldWindows(app),
		keyPaces: () => forgetPaces(app),
		jobs: () => forgetDone(app.db, wallNow - KEPT_MS.doneJobs, wallNow - KEPT_MS.onceKeys),
		sessions: () => app.db.delete(sessions).where(lt(sessions.expiresAt, wallNow)),
		halfSignIns: () => app.db.delete(halfSignIns).where(lt(halfSignIns.expiresAt, wallNow)),
		links: () => app.db.delete(signInLinks).where(lt(signInLinks.expiresAt, wallNow - KEPT_MS.spentLinks)),
		addressChanges: () =>
			app.db.delete(addressChanges).where(lt(addressChanges.expiresAt, wallNow - KEPT_MS.spentLinks)),
		joinLinks: () => app.db.delete(joinLinks).where(lt(joinLinks.expiresAt, wallNow - KEPT_MS.spentLinks)),
		notifications: () =>
			app.db.delete(notifications).where(lt(notifications.receivedAt, wallNow - KEPT_MS.notifications)),
		tellWaiting: () => tellAllWaiting(app),
		waitingList: () =>
			app.db.delete(waitingList).where(lt(waitingList.toldAt, app.clock.business() - KEPT_MS.waitingList)),
		seats: () =>
			app.db
				.update(seats)
				.set({ email: null })
				.where(and(lt(seats.endedAt, app.clock.business() - KEPT_MS.seats), isNotNull(seats.email))),
		linkOpenings: () =>
			app.db.delete(linkOpenings).where(lt(linkOpenings.lastAt, wallNow - KEPT_MS.linkOpenings)),
		sentMails: () =>
			app.db.delete(sentMails).where(lt(sentMails.at, app.clock.business() - KEPT_MS.sentMails)),
		looks: () =>
			app.db.delete(audit).where(and(eq(audit.action, LOOKED), lt(audit.wallAt, wallNow - KEPT_MS.looks))),
		income: () => keepMissingIncome(app)
	};
}

/** What is sold, how the site is set, and who outside is told of it. */
function partsOfSite(app: App): Parts {
	const wallNow = app.clock.wall();
	return {
		senderNames: () => lookAtSenderDaily(app),
		calls: () => forgetCalls(app.db, wallNow - KEPT_MS.calls),
		tellings: () => forgetTold(app.db, wallNow - KEPT_MS.tellings),
		rightsChanges: () => app.db.delete(rightsChanges).where(lt(rightsChanges.at, wallNow - CHANGES_KEPT_MS)),
		rehearsals: () => app.db.delete(rehearsals).where(lt(rehearsals.at, wallNow - KEPT_MS.rehearsals)),
		policyBase: () => keepBase(app.db, app.clock.business()),
		uploads: () => forgetUnfinished(app)
	};
}
