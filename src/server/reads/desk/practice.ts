/** What the Desk shows of practising. */
import { TEST_CARDS } from '$core/billing/test-cards';
import type { Book, Using } from '../../app';
import {
	lastPracticeMails,
	lastPracticePayments,
	leftOf,
	practiceCounts,
	practiceMail,
	practicePayment
} from '../../db/queries/practice';
import { shownPlans } from '../../rights/shown';

const MAILS_SHOWN = 50;
const PAYMENTS_SHOWN = 50;

/** How much stands in the book; `null`: there is none yet. */
export async function practiceFacts(book: Book | null) {
	if (book === null) return null;
	return { ...(await practiceCounts(book.app.db)), now: book.app.clock.business() };
}

/** Where somebody may begin to buy: what is offered to all, first. */
export async function placesToBegin(app: Using<'db' | 'rights'>): Promise<{ href: string; label: string }[]> {
	const plans = await shownPlans(app);
	return [
		{ href: '/plans', label: 'The page of all plans' },
		{ href: '/', label: 'The front page' },
		...plans
			.filter(({ isOnSale }) => isOnSale)
			.map(({ slug, name }) => ({ href: `/plans/${slug}`, label: name }))
	];
}

/** What was mailed and paid there, the newest first. */
export async function practiceDoings(app: Using<'db'>) {
	const payments = await lastPracticePayments(app.db, PAYMENTS_SHOWN);
	return {
		mails: await lastPracticeMails(app.db, MAILS_SHOWN),
		payments: payments.map(({ payment, card }) => {
			const { ref, text, amountMinor, currency, state, isCardOnly, refunds, disputes, createdAt } = payment;
			return {
				...{ ref, text, amountMinor, currency, state, isCardOnly, createdAt },
				card: card && TEST_CARDS[card.kind].ending,
				refundedMinor: refunds.reduce((sum, one) => sum + one.amountMinor, 0),
				dispute: disputes.at(-1)?.state ?? null,
				leftMinor: leftOf(payment)
			};
		})
	};
}

/** A mail as it would have arrived, with the links in it. */
export async function practisedMail(app: Using<'db'>, id: string | null) {
	const mail = id !== null && /^[0-9a-f-]{36}$/.test(id) ? await practiceMail(app.db, id) : null;
	if (!mail) return null;
	const { to, subject, text, html, at } = mail;
	return {
		id: mail.id,
		to,
		subject,
		text,
		html,
		at,
		links: [...new Set(text.match(/https?:\/\/[^\s<>]+/g) ?? [])]
	};
}

/** What is asked for on the page of the practice book's processor. */
export async function practicePayPage(app: Using<'clock' | 'db'>, ref: string) {
	const payment = await practicePayment(app.db, ref);
	if (!payment?.returnUrl) return null;
	const { text, statementName, amountMinor, currency, isCardOnly, returnUrl, awaits, expiresAt } = payment;
	const hasEnded = payment.state === 'pending' && app.clock.wall() >= (expiresAt ?? Infinity);
	return {
		...{ text, statementName, amountMinor, currency, isCardOnly, returnUrl },
		state: hasEnded ? ('expired' as const) : payment.state,
		isAsked: awaits !== null
	};
}
