/** The one way in which somebody is given a plan, and the one in which it is taken from them. */
import { and, inArray, isNull, sql, type SQL } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { GrantSource } from '$core/access/model';
import { keepFirstDays } from '../../db/queries/members';
import { grants } from '../../db/schema/access';
import { accounts } from '../../db/schema/people';
import type { Work } from '../../transact';

export interface Given {
	memberId: string;
	planId: string;
	from: number;
	/** `null`: it has no end of its own. */
	until: number | null;
	source: GrantSource;
	/** Of what was bought. */
	orderLineId?: string;
	/** Of a seat: the grant of whoever has bought it. */
	seatOf?: string;
	/** The first day of their time with the plan, which is never put off by it; left out: when it begins. */
	firstDay?: number;
	/** A label is put on and not joined. */
	isLabel?: boolean;
	/** By what it was given, as the audit says it; `null`: by what is noted of itself. */
	by: string | null;
	/** Of an order: its number. */
	order?: string;
	why?: string;
}

/** @returns the ids of the grants, in the order of what is given */
export async function grantTo(work: Work, all: readonly Given[]): Promise<string[]> {
	if (all.length === 0) return [];
	const given = all.map((one) => ({ ...one, id: uuidv7() }));
	await work.tx.insert(grants).values(
		given.map(({ id, memberId, planId, from, until, source, orderLineId = null, seatOf = null }) => ({
			...{ id, memberId, planId, from, until, source, orderLineId, seatOf }
		}))
	);
	await keepFirstDays(
		work.tx,
		given.map(({ memberId, planId, from, firstDay = from }) => ({
			memberId,
			planId,
			firstJoinedAt: firstDay
		}))
	);
	await work.noteAll(
		given.flatMap(({ id, memberId, planId, from, until, by, order, why, isLabel = false }) =>
			by === null
				? []
				: [
						{
							action: isLabel ? 'labelled' : 'granted',
							subject: { kind: 'grant', id },
							...{ memberId, after: { planId, from, until, by, ...(order ? { order } : {}) } },
							...(why === undefined ? {} : { why })
						}
					]
		)
	);
	for (const { memberId } of given) work.standingChanged(memberId);
	return given.map(({ id }) => id);
}

/**
 * Takes back what is in force of them: it is kept as it was, with when it was taken back. Proofs made before are void from then
 * on, so that what plays stops.
 * @param keepsProofs where nothing shuts by it
 * @returns what was taken back
 */
export async function revokeGrants(
	work: Work,
	which: SQL | undefined,
	{ keepsProofs = false }: { keepsProofs?: boolean } = {}
) {
	const { tx, now } = work;
	const ended = await tx
		.select()
		.from(grants)
		.where(and(which, isNull(grants.revokedAt)))
		.for('update');
	if (ended.length === 0) return ended;
	await tx
		.update(grants)
		.set({ revokedAt: now })
		.where(
			inArray(
				grants.id,
				ended.map(({ id }) => id)
			)
		);
	const memberIds = [...new Set(ended.map(({ memberId }) => memberId))];
	if (!keepsProofs)
		await tx
			.update(accounts)
			.set({ epoch: sql`${accounts.epoch} + 1` })
			.where(inArray(accounts.id, memberIds));
	for (const memberId of memberIds) work.standingChanged(memberId);
	return ended;
}
