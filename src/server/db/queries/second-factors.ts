/** Who is asked for a code when signing in, and what it is made of. */
import { and, count, eq, inArray, lt } from 'drizzle-orm';
import type { Handle, Tx } from '../connect';
import { halfSignIns, recoveryCodes, secondFactors } from '../schema/people';

export type SecondFactor = typeof secondFactors.$inferSelect;

export async function factorOf(db: Handle, accountId: string): Promise<SecondFactor | null> {
	const [factor] = await db.select().from(secondFactors).where(eq(secondFactors.accountId, accountId));
	return factor ?? null;
}

/** Those of some accounts that are asked for a code. */
export async function withFactor(db: Handle, accountIds: readonly string[]): Promise<Set<string>> {
	if (accountIds.length === 0) return new Set();
	const rows = await db
		.select({ id: secondFactors.accountId })
		.from(secondFactors)
		.where(inArray(secondFactors.accountId, [...accountIds]));
	return new Set(rows.map(({ id }) => id));
}

export async function recoveryCodesLeft(db: Handle, accountId: string): Promise<number> {
	const [left] = await db
		.select({ count: count() })
		.from(recoveryCodes)
		.where(eq(recoveryCodes.accountId, accountId));
	return left?.count ?? 0;
}

/** Takes the code of a step; `false`: one that is as late was taken before. */
export async function takeStep(
	tx: Tx,
	accountId: string,
	step: number,
	{ keyId, wrapped: sealed }: { keyId: string; wrapped: string }
): Promise<boolean> {
	const [taken] = await tx
		.update(secondFactors)
		.set({ lastStep: step, keyId, sealed })
		.where(and(eq(secondFactors.accountId, accountId), lt(secondFactors.lastStep, step)));
	return taken.affectedRows === 1;
}

/** Uses a recovery code up; `false`: it is none of this account's, or was used before. */
export async function takeRecoveryCode(tx: Tx, accountId: string, codeHash: string): Promise<boolean> {
	const [taken] = await tx
		.delete(recoveryCodes)
		.where(and(eq(recoveryCodes.accountId, accountId), eq(recoveryCodes.codeHash, codeHash)));
	return taken.affectedRows === 1;
}

/** In place of those that there were. */
export async function keepRecoveryCodes(tx: Tx, accountId: string, hashes: readonly string[]): Promise<void> {
	await tx.delete(recoveryCodes).where(eq(recoveryCodes.accountId, accountId));
	await tx.insert(recoveryCodes).values(hashes.map((codeHash) => ({ accountId, codeHash })));
}

/** With all that belongs to it; `false`: there was none. */
export async function forgetFactor(tx: Tx, accountId: string): Promise<boolean> {
	await tx.delete(recoveryCodes).where(eq(recoveryCodes.accountId, accountId));
	await tx.delete(halfSignIns).where(eq(halfSignIns.accountId, accountId));
	const [gone] = await tx.delete(secondFactors).where(eq(secondFactors.accountId, accountId));
	return gone.affectedRows === 1;
}
