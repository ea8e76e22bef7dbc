/** Sends mails. */
import { readRefusal } from '$core/mail/returned';
import type { Using } from '../app';
import { accountByEmail } from '../db/queries/members';
import { waitingPlan } from '../db/queries/codes';
import { giftsFor } from '../db/queries/gifts';
import { seatsFor } from '../db/queries/seats';
import { ownMailText } from '../db/queries/mail-texts';
import { planById } from '../db/queries/sales';
import { keepSent, whyAddressHeld } from '../db/queries/sent-mails';
import { MailRefused } from '../ports/mail';
import { makeAddressLink } from '../usecases/accounts/change-address';
import { makeJoinLink, makeLink } from '../usecases/accounts/sign-in-link';
import { joiningPath } from '../usecases/sales/waiting-list';
import { signerOfMails } from '../usecases/running/senders';
import { compose, written, type Ways, type Words } from './compose';
import type { About } from './messages';
import type { Occasion } from './occasions';

/** A way in, asked for by somebody who typed an address; where nobody has it, one to a free account, or nothing. */
export async function sendSignInMail(
	app: Mailing,
	{ email, next, joins = false, redemptionId = null }: WayInAsked,
	jobId: string
): Promise<void> {
	const account = await accountByEmail(app.db, email);
	// What somebody was given waits for them, account or not.
	const waits =
		account || joins ? 1 : (await giftsFor(app.db, email)).length + (await seatsFor(app.db, email)).length;
	if (waits === 0) return;
	const url = account
		? await makeLink(app, account.id, next, redemptionId)
		: await makeJoinLink(app, email, next, { redemptionId });
	const plan = redemptionId === null ? null : await waitingPlan(app.db, redemptionId);
	const about: Pick<About, 'key' | 'values'> =
		plan === null
			? { key: account ? 'sign-in' : 'join', values: {} }
			: { key: 'join-plan', values: { plan } };
	// Somebody waits for it: whether it arrives is for them to see.
	await hand(
		app,
		await written({ ...app, ways: realWays(app) }, account, { ...about, to: email, url }),
		jobId
	);
}

/** The link that puts an address on the waiting list of a plan; whoever did not ask for it leaves it. */
export async function sendWaitMail(
	app: Mailing,
	{ email: to, planId }: { email: string; planId: string },
	jobId: string
): Promise<void> {
	const plan = await planById(app.db, planId);
	if (!plan) return;
	const reader = await accountByEmail(app.db, to);
	const url = `${app.settings.origin}${joiningPath(app, planId, to)}`;
	const about = { key: 'wait' as const, to, values: { plan: plan.name }, url };
	await hand(app, await written({ ...app, ways: realWays(app) }, reader, about), jobId);
}

interface WayInAsked {
	email: string;
	next: string;
	joins?: boolean;
	/** What a code opened on a device, to be kept by whoever has the address. */
	redemptionId?: string | null;
}

export async function sendMail(app: Mailing, occasion: Occasion, jobId: string): Promise<void> {
	const words = await compose({ ...app, ways: realWays(app) }, occasion);
	if (!words) return;
	// Whoever had the account before is told, wherever that is.
	await (occasion.occasion === 'address-changed' ? hand : deliver)(app, words, jobId);
}

type Mailing = Using<'clock' | 'db' | 'keys' | 'mailer' | 'rights' | 'settings' | 'site'>;
type Sending = Using<'clock' | 'db' | 'keys' | 'mailer' | 'site'>;

/** Each is made when it is written. */
function realWays(app: Using<'clock' | 'db' | 'settings'>): Ways {
	return {
		signIn: (accountId, next) => makeLink(app, accountId, next),
		join: (email, next, does) => makeJoinLink(app, email, next, does),
		address: (accountId, email, change) => makeAddressLink(app, accountId, email, change),
		words: (key, language) => ownMailText(app.db, key, language)
	};
}

/** Where mails come back from, none is sent that nobody asked for: whoever sends on is taken for somebody who sends to anybody. */
async function deliver(app: Sending, words: Words, jobId: string): Promise<void> {
	const at = app.clock.business();
	if ((await whyAddressHeld(app.db, words.to, at)) === null) return hand(app, words, jobId);
	await keepSent(app.db, { id: jobId, ...words, at, isHeld: true });
}

async function hand(app: Sending, words: Words, jobId: string): Promise<void> {
	const site = await app.site();
	const from = { name: site.siteName, email: site.senderEmail };
	const sent = { id: jobId, ...words, at: app.clock.business() };
	try {
		await app.mailer.send(from, { ...words, key: jobId }, await signerOfMails(app, site.senderEmail));
	} catch (error) {
		const told = error instanceof MailRefused ? readRefusal(error.reply) : null;
		// Whatever else a server says may be otherwise when it is tried again.
		if (told?.fate !== 'gone') throw error;
		return keepSent(app.db, { ...sent, told });
	}
	await keepSent(app.db, sent);
}
