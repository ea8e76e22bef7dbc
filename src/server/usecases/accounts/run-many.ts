/** What the publisher does for many members at once: giving them a plan or a label, and ending it. Rehearsed first. */
import { and, eq, gt, inArray, isNull, or } from 'drizzle-orm';
import type { Grant, Member } from '$core/access/model';
import {
	goesOn,
	rehearsingMembers,
	withEnded,
	withGiven,
	type ChangedMember
} from '$core/access/rehearse-members';
import type { Rehearsal } from '$core/access/rehearse';
import { population } from '../../db/queries/members';
import { grants } from '../../db/schema/access';
import { accounts } from '../../db/schema/people';
import { plans, agreements } from '../../db/schema/sales';
import { inPieces } from '../../in-pieces';
import { need, type Staff } from '../../people/need';
import { digestOf, transact, type Work } from '../../transact';
import { consentOf, keepRehearsal, type KeptRehearsal, type Rehearsing } from '../access/rehearsed-save';
import { commandAgreement } from '../sales/move-agreement';
import { endUnproved, isClaimedAlone, unprovedOf } from './proving';
import { grantTo, revokeGrants } from '../access/granting';

/** A label is given and ended like a plan, and for good. */
export type ManyWish =
	{ kind: 'give'; planId: string; until: number | null } | { kind: 'end'; planId: string };

export type ManyDone =
	/** @param count of those whom something happened to */
	| { kind: 'saved'; count: number }
	| ({ kind: 'rehearsed'; rehearsal: KeptRehearsal } & Besides)
	| { kind: 'refused'; code: 'unknown-plan' | 'ends-before-it-begins' | 'too-many' };

/** What else it would do to some of them. */
export interface Besides {
	/** Their agreement would end, and with it what is charged. */
	paying: number;
	/** Whoever paid on their address would be signed out: nobody has shown yet that the mailbox is theirs. */
	unproved: number;
}

/** Members at once; of these, agreements that are stopped one by one. */
export const MOST_MEMBERS = 10_000;
export const MOST_PAYING = 500;
const AT_ONCE = 500;
const TRIES = 5;

/** @param agreedTo the rehearsal that somebody said yes to */
export async function runMany(
	app: Rehearsing,
	actor: Staff,
	memberIds: readonly string[],
	wish: ManyWish,
	agreedTo: string | null
): Promise<ManyDone> {
	need(actor, 'members');
	const wanted = [...new Set(memberIds)].sort();
	if (wanted.length > MOST_MEMBERS) return { kind: 'refused', code: 'too-many' };
	for (let attempt = 1; ; attempt++) {
		const policy = await app.rights.policy();
		if (!policy.plans.has(wish.planId)) return { kind: 'refused', code: 'unknown-plan' };
		const consent = await consentOf(app, agreedTo);
		const now = app.clock.business();
		if (wish.kind === 'give' && wish.until !== null && wish.until <= now)
			return { kind: 'refused', code: 'ends-before-it-begins' };
		const everybody = await app.population.all();
		const changed = wanted.flatMap((id): ChangedMember[] => {
			const before = everybody.get(id);
			const after = before && become(before, wish, consent.mint.at, now);
			return before && after ? [{ before, after }] : [];
		});
		const paying = wish.kind === 'end' ? changed.filter((one) => pays(one, wish.planId)).length : 0;
		if (paying > MOST_PAYING) return { kind: 'refused', code: 'too-many' };
		const result = await inPieces(rehearsingMembers(policy, changed, now, 'renewals-go-on'));
		const unproved =
			wish.kind === 'end'
				? []
				: await unprovedOf(
						app.db,
						changed.map(({ before }) => before.id)
					);
		const of = changed.map(({ before }) => before);
		const digest = digestOf({ wish, of, unproved, happens: happening(result) });
		const isAsked = result.effects.length > 0 || paying > 0 || unproved.length > 0;
		if (isAsked && consent.agreed?.digest !== digest) {
			const { version } = app.rights.known();
			const rehearsal = await keepRehearsal(app, consent, { version, digest }, result);
			return { kind: 'rehearsed', rehearsal, paying, unproved: unproved.length };
		}
		const isSaved = await transact(app, actor, async (work) => {
			// A label that somebody takes away stays until it is given, or is gone before.
			const [plan] = await work.tx
				.select({ isLabel: plans.isLabel })
				.from(plans)
				.where(eq(plans.id, wish.planId))
				.for('update');
			if (!plan) return false;
			const known = new Map(changed.map(({ before }) => [before.id, digestOf(before)]));
			for (let n = 0; n < changed.length; n += AT_ONCE) {
				const ids = changed.slice(n, n + AT_ONCE).map(({ before }) => before.id);
				await work.tx
					.select({ id: accounts.id })
					.from(accounts)
					.where(inArray(accounts.id, ids))
					.orderBy(accounts.id)
					.for('update');
				const present = await population(work.tx, ids);
				// Bought, ended, given or deleted by somebody else meanwhile: it is looked at anew.
				if (present.length < ids.length || present.some((one) => digestOf(one) !== known.get(one.id)))
					return false;
				if (wish.kind === 'give') await give(work, ids, { ...wish, ...plan, from: consent.mint.at });
				else await end(work, ids, { planId: wish.planId, ...plan });
				for (const id of ids) work.standingChanged(id);
			}
			return true;
		});
		if (isSaved) return { kind: 'saved', count: changed.length };
		if (attempt >= TRIES) throw new Error('Members changed again and again while many were run');
		await app.rights.refresh();
	}
}

/** How a member would stand; `null`: it changes nothing for them. */
function become(member: Member, wish: ManyWish, from: number, now: number): Member | null {
	const { planId } = wish;
	if (wish.kind === 'end') {
		const isMeant = (one: Grant) => one.planId === planId && goesOn(one, now);
		return member.grants.some(isMeant) ? withEnded(member, isMeant, now) : null;
	}
	const isHeldSoLong = member.grants.some(
		(one) =>
			one.planId === planId &&
			one.from <= now &&
			goesOn(one, now) &&
			(one.until === null || (wish.until !== null && one.until >= wish.until))
	);
	if (isHeldSoLong) return null;
	return withGiven(member, { planId, from, until: wish.until });
}

function pays({ before }: ChangedMember, planId: string): boolean {
	return before.grants.some((one) => one.planId === planId && one.renews);
}

/** Of a rehearsal, what is agreed to. What happens at once happens a little later now: the moment is no part of it. */
export function happening({ effects, groups }: Rehearsal) {
	return effects.map(({ at, group, ...rest }) => ({
		...rest,
		at: rest.kind.endsWith('now') ? null : at,
		memberIds: groups[group]?.memberIds ?? []
	}));
}

async function give(
	work: Work,
	memberIds: readonly string[],
	{ planId, until, isLabel, from }: { planId: string; until: number | null; isLabel: boolean; from: number }
): Promise<void> {
	const { tx } = work;
	// What the publisher gives is for whose mailbox it is, and not for whoever has paid on the address.
	const unproved = await tx
		.select()
		.from(accounts)
		.where(and(inArray(accounts.id, [...memberIds]), isClaimedAlone));
	for (const account of unproved) {
		await endUnproved(work, account);
		const memberId = account.id;
		const named = isLabel ? null : planId;
		await work.queue('mail', { occasion: 'invitation', memberId, planId: named }, { memberId });
	}
	await grantTo(
		work,
		memberIds.map((memberId) => ({
			...{ memberId, planId, from, until, isLabel },
			...{ source: 'hand' as const, by: 'hand' }
		}))
	);
}

async function end(
	work: Work,
	memberIds: readonly string[],
	{ planId, isLabel }: { planId: string; isLabel: boolean }
): Promise<void> {
	const { tx, now } = work;
	const running = and(
		inArray(grants.memberId, [...memberIds]),
		eq(grants.planId, planId),
		isNull(grants.revokedAt),
		or(isNull(grants.until), gt(grants.until, now))
	);
	const ended = await tx.select().from(grants).where(running);
	const paying = await tx
		.select({ id: agreements.id })
		.from(agreements)
		.where(
			inArray(
				agreements.grantId,
				ended.map(({ id }) => id)
			)
		);
	for (const { id } of paying) await commandAgreement(work, id, { kind: 'stop' });
	await revokeGrants(work, running);
	await work.noteAll(
		ended.map((grant) => ({
			action: isLabel ? 'unlabelled' : 'ended-grant',
			subject: { kind: 'grant', id: grant.id },
			memberId: grant.memberId,
			before: grant
		}))
	);
}
