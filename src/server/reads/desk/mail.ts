/** Mails as the Desk shows them: what waits, what was sent, what came back. */
import { firstDay, mailsByDay } from '$core/mail/by-day';
import type { Permissions } from '$core/staff/permissions';
import type { Using } from '../../app';
import { accountNames } from '../../db/queries/members';
import { idsNamed } from '../../db/queries/member-list';
import { newestOrdersOf } from '../../db/queries/lists';
import { waitingMails, type WaitingMail } from '../../db/queries/mail-jobs';
import { BACK, mailList, mailsByQuarter, membersHeld, type MailFate } from '../../db/queries/sent-mails';
import { listAsk } from './list-ask';

const PAGE_SIZE = 50;
const DAYS = 14;
/** Older mails are found by whom they went to. */
const LISTED_MS = 30 * 86_400_000;
const WAITING_SHOWN = 50;
/** Whoever types less than that is shown all. */
const NAMED_AT_MOST = 500;
const SHOWN = ['back', 'sent', ...BACK] as const satisfies readonly (MailFate | 'back')[];

export async function mailPage(app: Using<'clock' | 'db' | 'site'>, held: Permissions, url: URL) {
	const { zone } = await app.site();
	const now = app.clock.business();
	const [waiting, counted] = await Promise.all([
		waitingMails(app.db, WAITING_SHOWN),
		mailsByQuarter(app.db, firstDay(now, DAYS, zone), now)
	]);
	const isBack = (fate: MailFate | string) => BACK.some((one) => one === fate && one !== 'held');
	const days = mailsByDay(
		counted.filter(({ fate }) => fate !== 'held').map((one) => ({ ...one, isBack: isBack(one.fate) })),
		now,
		DAYS,
		zone
	);
	const may = { members: held.has('members'), settings: held.has('settings') };
	return {
		may,
		days,
		waiting: { ...waiting, rows: may.members ? await named(app, waiting.rows) : [] },
		list: may.members ? await listed(app, url, now - LISTED_MS) : null
	};
}

async function listed(app: Using<'db'>, url: URL, since: number) {
	const { search, page } = listAsk(url);
	const asked = url.searchParams.get('state');
	const shown = SHOWN.find((one) => one === asked) ?? null;
	const to = search === '' ? { since } : { memberIds: await idsNamed(app.db, search, NAMED_AT_MOST) };
	const { rows, total } = await mailList(app.db, { shown, to }, PAGE_SIZE, (page - 1) * PAGE_SIZE);
	const names = await accountNames(
		app.db,
		rows.map(({ memberId }) => memberId)
	);
	return {
		shown,
		total,
		pageSize: PAGE_SIZE,
		rows: rows.map(({ id, memberId, address, subject, at, ...mail }) => ({
			...{ id, memberId, name: names.get(memberId) ?? '', address, subject, at, fate: mail.fate },
			...{ code: mail.fateCode, words: mail.fateWords, isCleared: mail.clearedAt !== null }
		}))
	};
}

/** Kinds that are about one thing alone. */
const ABOUT_KIND: Readonly<Record<string, string>> = { 'sign-in-mail': 'sign-in', 'wait-mail': 'wait' };

/** With whom each is for, and what it is about. */
async function named(app: Using<'db'>, rows: readonly WaitingMail[]) {
	const names = await accountNames(
		app.db,
		rows.flatMap(({ memberId }) => memberId ?? [])
	);
	return rows.map(({ kind, payload, memberId, ...row }) => {
		const { email, occasion } = payload as { email?: string; occasion?: string };
		return {
			...row,
			memberId,
			to: memberId === null ? (email ?? '') : (names.get(memberId) ?? ''),
			about: occasion ?? ABOUT_KIND[kind] ?? ''
		};
	});
}

/** Whom nothing is written to, for it comes back; and whether anybody reads what servers report. */
export async function returnedPage(app: Using<'clock' | 'db' | 'returns' | 'site'>) {
	return {
		held: await membersHeld(app.db, app.clock.business()),
		hasBox: app.returns !== null,
		senderEmail: (await app.site()).senderEmail
	};
}

/** How many members cannot be written to. */
export async function heldCount(app: Using<'clock' | 'db'>): Promise<number> {
	return (await membersHeld(app.db, app.clock.business())).length;
}

const ORDERS_OFFERED = 10;

/** To show a mail with. */
export function newestOrders(app: Using<'db'>) {
	return newestOrdersOf(app.db, ORDERS_OFFERED);
}
