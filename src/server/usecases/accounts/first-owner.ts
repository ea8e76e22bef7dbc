/** The first owner is made with a one-time token that only the log shows. */
import { eq } from 'drizzle-orm';
import { statementNameOf } from '$core/billing/statement-name';
import type { Using } from '../../app';
import { hasOwner } from '../../db/queries/members';
import { changeSettings } from '../../db/queries/settings';
import { accounts, ownerTokens } from '../../db/schema/people';
import { beginSession, hashOf, newToken, type NewSession } from '../../people/sessions';
import { transact, type Transacting } from '../../transact';
import { hashPassword } from './passwords';
import { normaliseEmail } from './sign-in';

/** A new token where there is no owner yet; older ones become void. */
export async function offerOwnership(app: Using<'clock' | 'db'>): Promise<string | null> {
	if (await hasOwner(app.db)) return null;
	const token = newToken();
	await app.db.delete(ownerTokens);
	await app.db.insert(ownerTokens).values({ tokenHash: hashOf(token), createdAt: app.clock.wall() });
	return token;
}

export async function isOwnerToken(app: Using<'db'>, token: string): Promise<boolean> {
	const [row] = await app.db
		.select()
		.from(ownerTokens)
		.where(eq(ownerTokens.tokenHash, hashOf(token)));
	return row !== undefined && !(await hasOwner(app.db));
}

export interface FirstOwner {
	token: string;
	email: string;
	name: string;
	password: string;
	siteName: string;
	zone: string;
	currency: string;
}

export async function makeFirstOwner(
	app: Transacting & Using<'site'>,
	ask: FirstOwner
): Promise<NewSession | null> {
	// Hashing is dear: only for whoever has the token.
	if (!(await isOwnerToken(app, ask.token))) return null;
	const hashed = await hashPassword(ask.password);
	if (!hashed.ok) return null;
	const site = await app.site();
	return transact(app, null, async (work) => {
		const [used] = await work.tx.delete(ownerTokens).where(eq(ownerTokens.tokenHash, hashOf(ask.token)));
		if (used.affectedRows !== 1 || (await hasOwner(work.tx))) return null;
		const [owner] = await work.tx
			.insert(accounts)
			.values({
				email: normaliseEmail(ask.email),
				name: ask.name,
				role: 'owner',
				passwordHash: hashed.hash,
				claimedAt: work.now,
				// Whoever reads the server's log is believed.
				provedAt: work.now,
				createdAt: work.now
			})
			.$returningId();
		if (!owner) throw new Error('The owner was not written');
		const value = {
			...site,
			siteName: ask.siteName,
			statementName: statementNameOf(ask.siteName),
			senderEmail: normaliseEmail(ask.email),
			zone: ask.zone,
			currency: ask.currency
		};
		await changeSettings(work.tx, () => value);
		work.policyChanged('first owner', { site: true });
		await work.note({
			action: 'made-first-owner',
			subject: { kind: 'account', id: owner.id },
			after: { email: ask.email }
		});
		return beginSession(work, owner.id, 'password');
	});
}
