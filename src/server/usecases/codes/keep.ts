/** What a code opened on a device goes over to the account of whoever pressed the link that was mailed about it. */
import { and, eq, isNull, sql } from 'drizzle-orm';
import { codeBatches, codes, redemptions } from '../../db/schema/access';
import type { Work } from '../../transact';
import { grantTo } from '../access/granting';

/** Once, and with the span that it had on the device. The account is locked, and proved. */
export async function keepRedeemed(work: Work, redemptionId: string, memberId: string): Promise<void> {
	const { tx, now } = work;
	const isThis = and(eq(redemptions.id, redemptionId), isNull(redemptions.memberId));
	const [asked] = await tx.select({ codeId: redemptions.codeId }).from(redemptions).where(isThis);
	if (!asked) return;
	// As whoever redeems it does: two take turns.
	await tx.select({ id: codes.id }).from(codes).where(eq(codes.id, asked.codeId)).for('update');
	const [found] = await tx
		.select({ redemption: redemptions, batch: codeBatches })
		.from(redemptions)
		.innerJoin(codeBatches, eq(codeBatches.id, redemptions.batchId))
		.where(isThis);
	if (!found) return;
	const { redemption, batch } = found;
	const { codeId, at, until } = redemption;
	work.devicesChanged();
	const [own] = await tx
		.select({ id: redemptions.id })
		.from(redemptions)
		.where(and(eq(redemptions.codeId, codeId), eq(redemptions.memberId, memberId)));
	if (own) {
		// Signed in, they had redeemed it before: it counts once.
		await tx.delete(redemptions).where(eq(redemptions.id, redemptionId));
		await tx
			.update(codes)
			.set({ uses: sql`${codes.uses} - 1` })
			.where(eq(codes.id, codeId));
		return;
	}
	await tx.update(redemptions).set({ memberId, deviceHash: null }).where(eq(redemptions.id, redemptionId));
	if (batch.planId !== null && (until === null || until > now))
		await grantTo(work, [{ memberId, planId: batch.planId, from: at, until, source: 'code', by: 'code' }]);
	work.standingChanged(memberId);
	await work.note({
		action: 'redeemed-code',
		subject: { kind: 'codes', id: batch.id },
		memberId,
		after: batch.name
	});
}
