/** Composes a mail when it is sent, so that ways in are younger than the mail and never lie in the queue. */
import { formatMoney } from '$core/billing/money';
import { paidUntil } from '$core/billing/subscription';
import type { App } from '../app';
import { accountByEmail, accountById, type Account } from '../db/queries/members';
import {
	lineOf,
	orderById,
	planById,
	planNames,
	priceVersionById,
	subscriptionById
} from '../db/queries/sales';
import type { Mail } from '../ports/mail';
import { makeLink } from '../usecases/accounts/sign-in-link';
import { landingPath } from '../usecases/sales/landing';
import {
	hadAlreadyMail,
	invitationMail,
	orderMail,
	signInMail,
	staffMail,
	subscriptionMail
} from './messages';
import type { Occasion } from './occasions';

type Words = Omit<Mail, 'key'>;

/** A way in, asked for by somebody who typed an address: nothing is sent where nobody has it. */
export async function sendSignInMail(
	app: App,
	{ email, next }: { email: string; next: string },
	jobId: string
): Promise<void> {
	const account = await accountByEmail(app.db, email);
	if (!account) return;
	const url = await makeLink(app, account.id, next);
	await deliver(app, signInMail(await app.site(), email, url), jobId);
}

export async function sendMail(app: App, occasion: Occasion, jobId: string): Promise<void> {
	const words = await compose(app, occasion);
	if (words) await deliver(app, words, jobId);
}

async function deliver(app: App, words: Words, jobId: string): Promise<void> {
	const site = await app.site();
	await app.mailer.send({ name: site.siteName, email: site.senderEmail }, { ...words, key: jobId });
}

async function compose(app: App, about: Occasion): Promise<Words | null> {
	switch (about.occasion) {
		case 'invitation': {
			const account = await addressed(app, about.memberId);
			return account && invitation(app, account, about.planId);
		}
		case 'staff': {
			const account = await addressed(app, about.memberId);
			// Taken out again before it was sent: then there is nothing to say.
			return account && account.role !== 'member' ? staffInvitation(app, account) : null;
		}
		case 'order':
		case 'had-already':
			return orderWords(app, about);
		case 'subscription':
			return subscriptionWords(app, about);
	}
}

/** The account, where it still has an address: nobody writes to one that was deleted. */
async function addressed(app: App, memberId: string | null): Promise<(Account & { email: string }) | null> {
	const account = memberId === null ? null : await accountById(app.db, memberId);
	return account?.email ? { ...account, email: account.email } : null;
}

async function invitation(app: App, account: Account & { email: string }, planId: string | null) {
	const planName = planId === null ? null : ((await planNames(app.db, [planId])).get(planId) ?? null);
	const path = planId === null ? '/account' : await landingPath(app, planId, null);
	const url = await makeLink(app, account.id, path);
	return invitationMail(await app.site(), account.email, { planName, url });
}

async function staffInvitation(app: App, account: Account & { email: string }) {
	const url = await makeLink(app, account.id, '/desk');
	return staffMail(await app.site(), account.email, url);
}

async function orderWords(
	app: App,
	{ occasion, orderId }: { occasion: 'order' | 'had-already'; orderId: string }
): Promise<Words | null> {
	const order = await orderById(app.db, orderId);
	const account = await addressed(app, order?.memberId ?? null);
	if (!order || !account) return null;
	const line = await lineOf(app.db, order.id);
	const plan = await planById(app.db, line.planId);
	if (!plan) return null;
	const path = await landingPath(app, plan.id, order.next);
	const write = occasion === 'order' ? orderMail : hadAlreadyMail;
	return write(await app.site(), account.email, {
		planName: plan.name,
		amount: { minor: order.totalMinor, currency: order.currency },
		number: order.number,
		contentUrl: app.settings.origin + path,
		signInUrl: await makeLink(app, account.id, path)
	});
}

async function subscriptionWords(
	app: App,
	about: Extract<Occasion, { occasion: 'subscription' }>
): Promise<Words | null> {
	const row = await subscriptionById(app.db, about.subscriptionId);
	const account = await addressed(app, row?.memberId ?? null);
	const plan = row && (await planById(app.db, row.planId));
	if (!row || !account || !plan) return null;
	const price = await priceVersionById(app.db, row.priceVersionId);
	const terms = { anchor: row.anchor, unit: price.periodUnit, count: price.periodCount, zone: row.zone };
	return subscriptionMail(await app.site(), account.email, {
		message: about.message,
		planName: plan.name,
		amount: formatMoney({ minor: price.amountMinor, currency: price.currency }),
		paidUntil: paidUntil(terms, about.period),
		hasEnded: about.hasEnded,
		contentUrl: app.settings.origin + (await landingPath(app, row.planId, null)),
		accountUrl: `${app.settings.origin}/account`,
		buyUrl: `${app.settings.origin}/checkout/${plan.slug}`
	});
}
