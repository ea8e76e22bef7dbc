/** The first owner is made with a one-time token that only the log shows. */
import { eq } from 'drizzle-orm';
import { statementNameOf } from '$core/billing/statement-name';
import type { App } from '../../app';
import { hasOwner } from '../../db/queries/members';
import { settings } from '../../db/schema/running';
import { accounts, ownerTokens } from '../../db/schema/people';
import { beginSession, hashOf, newToken, type NewSession } from '../../http/sessions';
import { transact } from '../../transact';
import { hashPassword } from './passwords';
import { normaliseEmail } from './sign-in';

/** A new token where there is no owner yet; older ones become void. */
export async function offerOwnership(app: App): Promise<string | null> {
	if (await hasOwner(app.db)) return null;
	const token = newToken();
	await app.db.delete(ownerTokens);
	await app.db.insert(ownerTokens).values({ tokenHash: hashOf(token), createdAt: app.clock.wall() });
	return token;
}

export async function isOwnerToken(app: App, token: string): Promise<boolean> {
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

export async function makeFirstOwner(app: App, ask: FirstOwner): Promise<NewSession | null> {
	const passwordHash = await hashPassword(ask.password);
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
				passwordHash,
				claimedAt: work.now,
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
		await work.tx.update(settings).set({ value });
		work.policyChanged('first owner');
		await work.note({
			action: 'made-first-owner',
			subject: { kind: 'account', id: owner.id },
			after: { email: ask.email }
		});
		return beginSession(app, work, owner.id);
	});
}
