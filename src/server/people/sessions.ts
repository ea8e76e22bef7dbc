/** Sessions: a random token in a cookie, its hash in the database. */
import { createHash, randomBytes } from 'node:crypto';
import { eq } from 'drizzle-orm';
import { sessions, type SessionBegin } from '../db/schema/people';
import type { Work } from '../transact';

export const SESSION_DAYS = 30;
const DAY_MS = 86_400_000;

export interface NewSession {
	token: string;
	maxAgeSeconds: number;
}

export function newToken(): string {
	return randomBytes(32).toString('base64url');
}

export function hashOf(token: string): string {
	return createHash('sha256').update(token).digest('hex');
}

export async function beginSession(
	{ tx, wall, standingChanged }: Work,
	accountId: string,
	begunBy: SessionBegin
): Promise<NewSession> {
	const token = newToken();
	await tx.insert(sessions).values({
		tokenHash: hashOf(token),
		accountId,
		begunBy,
		createdAt: wall,
		expiresAt: wall + SESSION_DAYS * DAY_MS
	});
	standingChanged(accountId);
	return { token, maxAgeSeconds: SESSION_DAYS * 86_400 };
}

export async function endSession(
	{ tx, standingChanged }: Work,
	token: string,
	accountId: string
): Promise<void> {
	await tx.delete(sessions).where(eq(sessions.tokenHash, hashOf(token)));
	standingChanged(accountId);
}
