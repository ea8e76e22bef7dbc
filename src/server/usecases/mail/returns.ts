/**
 * What became of mails, as servers report it: by a call, or in a mailbox. A report counts for a mail of ours alone, which it
 * names by what nobody knows but who was sent it.
 */
import { isWorse, readReport, type Report } from '$core/mail/returned';
import type { Using } from '../../app';
import { accountById, lockAccount } from '../../db/queries/members';
import { clearAddress, keepFate, lockSent } from '../../db/queries/sent-mails';
import { need, type Staff } from '../../people/need';
import type { Returns } from '../../ports/returns';
import { transact, type Transacting } from '../../transact';
import { endReminders } from '../sales/remind';
import { reportParts } from './report-parts';

export type Heard =
	| 'noted'
	/** A report of this mail that is as bad came before. */
	| 'known'
	/** None that was sent to a member, or not yet. */
	| 'no-such-mail'
	/** It says of no mail that anything went wrong. */
	| 'no-report';

/** @param raw the report as it was mailed (RFC 6522) */
export async function receiveReport(app: Transacting, raw: Uint8Array): Promise<Heard> {
	const report = readReport(await reportParts(raw));
	return report === null ? 'no-report' : noteReport(app, report);
}

/** The worst that was heard of a mail stands; whoever complains is sent no reminders any more. */
export async function noteReport(app: Transacting, { mailId, ...told }: Report): Promise<Heard> {
	return transact<Heard>(app, null, async (work) => {
		const mail = await lockSent(work.tx, mailId);
		if (!mail) return 'no-such-mail';
		if (mail.fate === 'held' || !isWorse(told.fate, mail.fate)) return 'known';
		await keepFate(work.tx, mailId, told, work.now);
		await work.note({
			action: 'mail-returned',
			subject: { kind: 'account', id: mail.memberId },
			memberId: mail.memberId,
			after: { fate: told.fate, code: told.code }
		});
		if (told.fate === 'complaint') {
			await lockAccount(work.tx, mail.memberId);
			await endReminders(work, mail.memberId);
		}
		return 'noted';
	});
}

/** Reads the mailbox; gives how many reports there were. */
export async function readReturns(app: Transacting, box: Returns): Promise<number> {
	return box.read(async (raw) => {
		const heard = await receiveReport(app, raw);
		if (heard === 'no-report') app.log.info('a report in the mailbox could not be read');
	});
}

export type WritesAgain = { ok: true } | { ok: false; code: 'no-such-member' | 'nothing-held' };

/** The publisher knows better: the address is written to again, until the next mail comes back. */
export async function writeAgain(app: Transacting, actor: Staff, memberId: string): Promise<WritesAgain> {
	need(actor, 'members');
	return transact<WritesAgain>(app, actor, async (work) => {
		await lockAccount(work.tx, memberId);
		const account = await accountById(work.tx, memberId);
		if (!account?.email) return { ok: false, code: 'no-such-member' };
		const mails = await clearAddress(work.tx, account.email, work.now);
		if (mails === 0) return { ok: false, code: 'nothing-held' };
		const subject = { kind: 'account', id: memberId };
		await work.note({ action: 'writes-again', subject, memberId, after: { mails } });
		return { ok: true };
	});
}

export type LookedIntoBox = { ok: true; count: number } | { ok: false; code: 'no-box' | 'no-answer' };

/** Reads the mailbox now, and says whether that can be done. */
export async function lookIntoBox(app: Transacting & Using<'returns'>, actor: Staff): Promise<LookedIntoBox> {
	need(actor, 'members', 'settings');
	if (app.returns === null) return { ok: false, code: 'no-box' };
	try {
		return { ok: true, count: await readReturns(app, app.returns) };
	} catch (error) {
		app.log.warn({ err: error }, 'the mailbox of reports could not be read');
		return { ok: false, code: 'no-answer' };
	}
}
