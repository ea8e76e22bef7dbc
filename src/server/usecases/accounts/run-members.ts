/** What the publisher does for one member: letting in by hand, giving and ending plans, setting the first day. */
import { eq } from 'drizzle-orm';
import type { Member } from '$core/access/model';
import { goesOn, withEnded, withGiven, type MemberEffect } from '$core/access/rehearse-members';
import { DONE, notDone, type Done } from '../../done';
import { accountByEmail, accountById, lockAccount } from '../../db/queries/members';
import { planNames } from '../../db/queries/sales';
import { grants } from '../../db/schema/access';
import { agreements } from '../../db/schema/sales';
import { digestOf, transact, type Transacting } from '../../transact';
import { commandAgreement } from '../sales/move-agreement';
import { isStill, rehearsedFor } from './rehearsed-member';
import { makeAccount } from './make-account';
import { endUnproved } from './proving';
import { normaliseEmail } from './sign-in';
import { need, type Staff } from '../../people/need';
import { grantTo, revokeGrants } from '../access/granting';

export type Added = { ok: true; memberId: string } | { ok: false; code: 'taken' };

/** Makes an account and mails an invitation with a link that signs in by a press. */
export async function addMember(
	app: Transacting,
	actor: Staff,
	wish: { email: string; name: string; planId: string | null; until: number | null }
): Promise<Added> {
	need(actor, 'members');
	const email = normaliseEmail(wish.email);
	const known = await accountByEmail(app.db, email);
	if (known) return { ok: false, code: 'taken' };
	return transact<Added>(app, actor, async (work) => {
		const memberId = await makeAccount(work, { email, name: wish.name });
		// Somebody else added the same address at the same moment.
		if (memberId === null) return { ok: false, code: 'taken' };
		await work.note({ action: 'added-member', subject: { kind: 'account', id: memberId }, memberId });
		const planName = wish.planId
			? ((await planNames(work.tx, [wish.planId])).get(wish.planId) ?? null)
			: null;
		if (wish.planId && planName) {
			const { planId, until } = wish;
			await grantTo(work, [{ memberId, planId, from: work.now, until, ...BY_HAND }]);
		}
		const planId = planName === null ? null : wish.planId;
		await work.queue('mail', { occasion: 'invitation', memberId, planId }, { memberId });
		return { ok: true, memberId };
	});
}

/** As the grant and the audit say it. */
const BY_HAND = { source: 'hand', by: 'hand' } as const;

export type GaveGrant = { ok: true } | { ok: false; code: 'unknown' | 'ends-before-it-begins' };

export type GaveRehearsed =
	| GaveGrant
	/** What it would do: the yes names the digest. */
	| { ok: false; code: 'rehearsed'; digest: string; effects: MemberEffect[] };

export interface GrantWish {
	memberId: string;
	planId: string;
	/** In the past or the future; `null`: now. */
	from: number | null;
	until: number | null;
	why: string;
}

/** Gives a plan with dates, once somebody has said yes to what it does; at once where that is nothing. */
export async function giveRehearsed(
	app: Transacting,
	actor: Staff,
	wish: GrantWish,
	agreedTo: string | null
): Promise<GaveRehearsed> {
	need(actor, 'members');
	const { why: _, ...asked } = wish;
	const given = { ...wish, from: wish.from ?? app.clock.business() };
	if (given.until !== null && given.until <= given.from) return { ok: false, code: 'ends-before-it-begins' };
	const rehearsal = await rehearsedFor(app, wish.memberId, asked, (member) => withGiven(member, given));
	if (!rehearsal) return { ok: false, code: 'unknown' };
	const { digest, effects, before } = rehearsal;
	if (effects.length > 0 && agreedTo !== digest) return { ok: false, code: 'rehearsed', digest, effects };
	const done = await giving(app, actor, given, before);
	return done === 'moved' ? giveRehearsed(app, actor, wish, agreedTo) : done;
}

/** @param before the member as they were looked at: `moved` where they are another by now */
function giving(
	app: Transacting,
	actor: Staff,
	{ memberId, planId, from, until, why }: GrantWish & { from: number },
	before: Member
): Promise<GaveGrant | 'moved'> {
	return transact<GaveGrant | 'moved'>(app, actor, async (work) => {
		if (!(await isStill(work, before))) return 'moved';
		await lockAccount(work.tx, memberId);
		const account = await accountById(work.tx, memberId);
		if (!account || !(await planNames(work.tx, [planId])).has(planId)) return { ok: false, code: 'unknown' };
		// What the publisher gives is for whose mailbox it is, and not for whoever has paid on the address.
		const wasIn = account.claimedAt !== null && (await endUnproved(work, account));
		if (wasIn) await work.queue('mail', { occasion: 'invitation', memberId, planId }, { memberId });
		await grantTo(work, [{ memberId, planId, from, until, why, ...BY_HAND }]);
		work.standingChanged(memberId);
		return { ok: true };
	});
}

export type EndRehearsed =
	| { ok: true }
	/** `unknown`: it is ended already, or was never there. */
	| { ok: false; code: 'unknown' }
	/** What it would do: the yes names the digest. @param pays an agreement, which ends with it */
	| { ok: false; code: 'rehearsed'; digest: string; effects: MemberEffect[]; pays: boolean };

/** Ends a grant now, once somebody has said yes to what that shuts; at once where that is nothing. */
export async function endRehearsed(
	app: Transacting,
	actor: Staff,
	{ memberId, grantId, why }: { memberId: string; grantId: string; why: string },
	agreedTo: string | null
): Promise<EndRehearsed> {
	need(actor, 'members');
	const now = app.clock.business();
	const rehearsal = await rehearsedFor(app, memberId, { grantId }, (member) =>
		withEnded(member, ({ id }) => id === grantId, now)
	);
	const grant = rehearsal?.before.grants.find(({ id }) => id === grantId);
	if (!rehearsal || !grant || !goesOn(grant, now)) return { ok: false, code: 'unknown' };
	const { effects, before } = rehearsal;
	// That an agreement ends with it is part of what is agreed to.
	const digest = digestOf({ happens: rehearsal.digest, pays: grant.renews });
	if ((effects.length > 0 || grant.renews) && agreedTo !== digest)
		return { ok: false, code: 'rehearsed', digest, effects, pays: grant.renews };
	const done = await ending(app, actor, grantId, why, before);
	if (done === 'moved') return endRehearsed(app, actor, { memberId, grantId, why }, agreedTo);
	return done.ok ? done : { ok: false, code: 'unknown' };
}

/** What an agreement pays for ends with it, so that nothing more is charged. */
function ending(
	app: Transacting,
	actor: Staff,
	grantId: string,
	why: string,
	before: Member
): Promise<Done<'ended'> | 'moved'> {
	return transact<Done<'ended'> | 'moved'>(app, actor, async (work) => {
		if (!(await isStill(work, before))) return 'moved';
		const [grant] = await work.tx.select().from(grants).where(eq(grants.id, grantId));
		if (!grant || grant.revokedAt !== null) return notDone('ended');
		const [paying] = await work.tx.select().from(agreements).where(eq(agreements.grantId, grantId));
		if (paying) await commandAgreement(work, paying.id, { kind: 'stop' });
		await revokeGrants(work, eq(grants.id, grantId));
		await work.note({
			action: 'ended-grant',
			subject: { kind: 'grant', id: grantId },
			memberId: grant.memberId,
			before: grant,
			why
		});
		work.standingChanged(grant.memberId);
		return DONE;
	});
}
