/** The words of every mail. Text and HTML are made from the same paragraphs. */
import { formatMoney, type Money } from '$core/billing/money';
import type { SiteSettings } from '../db/schema/running';
import type { Mail } from '../ports/mail';
import type { Message } from '$core/billing/course';

type Words = Omit<Mail, 'key'>;
type Paragraph = string | { link: string; url: string };

export function signInMail(site: SiteSettings, to: string, url: string): Words {
	return mail(site, to, `Sign in to ${site.siteName}`, [
		'Press the button on the page behind this link to sign in on the device you open it with.',
		{ link: 'Sign in', url },
		'The link works once, for 14 days. If you did not ask for it, leave it: opening it alone does nothing.'
	]);
}

export function invitationMail(
	site: SiteSettings,
	to: string,
	{ planName, url }: { planName: string | null; url: string }
): Words {
	return mail(site, to, `You are let in to ${site.siteName}`, [
		planName ? `You have been given ${planName}.` : 'An account has been made for you.',
		'Press the button on the page behind this link to sign in on the device you open it with.',
		{ link: 'Sign in', url },
		'The link works once, for 14 days.'
	]);
}

export function staffMail(site: SiteSettings, to: string, url: string): Words {
	return mail(site, to, `You work at the Desk of ${site.siteName} now`, [
		'Press the button on the page behind this link to sign in on the device you open it with.',
		{ link: 'Sign in to the Desk', url },
		'The link works once, for 14 days. You can set a password in your account.'
	]);
}

interface Bought {
	planName: string;
	amount: Money;
	number: string;
	contentUrl: string;
	signInUrl: string;
}

export function orderMail(site: SiteSettings, to: string, order: Bought): Words {
	return mail(site, to, `${order.planName} is open for you`, [
		`You bought ${order.planName} for ${formatMoney(order.amount)}. Order ${order.number}.`,
		{ link: 'Open what you bought', url: order.contentUrl },
		'On another device, sign in with this link. It works once, for 14 days:',
		{ link: 'Sign in and open', url: order.signInUrl },
		`The payment stands as ${site.statementName} on your card statement. Your receipts are in your account.`
	]);
}

export function hadAlreadyMail(site: SiteSettings, to: string, order: Bought): Words {
	return mail(site, to, `You had ${order.planName} already`, [
		`You have paid ${formatMoney(order.amount)} for ${order.planName} (order ${order.number}), which you had already. The money goes back to your card by itself.`,
		'Sign in with this link to open it. It works once, for 14 days:',
		{ link: 'Sign in and open', url: order.signInUrl },
		{ link: 'Open it on a device that is signed in', url: order.contentUrl }
	]);
}

export function subscriptionMail(
	site: SiteSettings,
	to: string,
	about: {
		message: Message;
		planName: string;
		amount: string;
		paidUntil: number;
		hasEnded: boolean;
		contentUrl: string;
		accountUrl: string;
		buyUrl: string;
	}
): Words {
	const { planName, amount } = about;
	const day = new Intl.DateTimeFormat('en-GB', { dateStyle: 'long', timeZone: site.zone }).format(
		about.paidUntil
	);
	switch (about.message) {
		case 'renewed':
			return mail(site, to, `${planName} is renewed`, [
				`We charged ${amount}. ${planName} stays open until ${day}. The receipt is in your account.`,
				{ link: 'Open', url: about.contentUrl },
				{ link: 'Your account', url: about.accountUrl }
			]);
		case 'payment-declined':
			return mail(site, to, `The payment for ${planName} was declined`, [
				`Your card was declined for ${amount}. We will try again in the next days; until then ${planName} stays open.`,
				{ link: 'Your account', url: about.accountUrl }
			]);
		case 'lapsed':
			return mail(site, to, `${planName} has ended`, [
				`Your card was declined several times, so ${planName} is closed now. You can buy it again at any time.`,
				{ link: 'Buy again', url: about.buyUrl }
			]);
		case 'cancelled':
			return mail(site, to, `${planName} is cancelled`, [
				about.hasEnded
					? `${planName} is closed now. Nothing more will be charged.`
					: `Nothing more will be charged. ${planName} stays open until ${day}, which you have paid.`,
				{ link: 'Your account', url: about.accountUrl }
			]);
		case 'resumed':
			return mail(site, to, `${planName} goes on`, [
				`Your cancellation is taken back. The next payment of ${amount} is due on ${day}.`,
				{ link: 'Your account', url: about.accountUrl }
			]);
	}
}

function mail(site: SiteSettings, to: string, subject: string, paragraphs: Paragraph[]): Words {
	const signature = site.siteName;
	const text = [
		...paragraphs.map((p) => (typeof p === 'string' ? p : `${p.link}: ${p.url}`)),
		signature
	].join('\n\n');
	const body = [...paragraphs, signature].map(
		(p) =>
			`<p>${typeof p === 'string' ? escapeHtml(p) : `<a href="${escapeHtml(p.url)}">${escapeHtml(p.link)}</a>`}</p>`
	);
	const html = `<!doctype html><html lang="en"><body style="font:16px/24px Georgia,serif;color:#14212b;max-width:34em">${body.join('')}</body></html>`;
	return { to, subject, text, html };
}

function escapeHtml(text: string): string {
	return text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}
