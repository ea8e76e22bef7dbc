/** Checkouts elsewhere that may tell who bought what. What their calls are signed with is shown once. */
import { and, asc, eq, isNull } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { Using } from '../../app';
import { outsideCheckouts } from '../../db/schema/sales';
import { newToken } from '../../people/sessions';
import { need, type Staff } from '../../people/need';
import { transact, type Transacting } from '../../transact';

const sealedFor = (id: string) => `outside-checkout ${id}`;

export async function makeOutsideCheckout(
	app: Transacting & Using<'keys'>,
	actor: Staff,
	name: string
): Promise<{ id: string; secret: string }> {
	need(actor, 'settings');
	const [id, secret] = [uuidv7(), newToken()];
	const { keyId, wrapped: sealed } = app.keys.seal(sealedFor(id), secret);
	await transact(app, actor, async (work) => {
		await work.tx.insert(outsideCheckouts).values({ id, name, keyId, sealed, createdAt: work.wall });
		await work.note({
			action: 'made-outside-checkout',
			subject: { kind: 'outside-checkout', id },
			after: name
		});
	});
	return { id, secret };
}

/** What it told before stays as it is. */
export async function endOutsideCheckout(app: Transacting, actor: Staff, id: string): Promise<void> {
	need(actor, 'settings');
	await transact(app, actor, async (work) => {
		const [ended] = await work.tx
			.update(outsideCheckouts)
			.set({ endedAt: work.wall })
			.where(and(eq(outsideCheckouts.id, id), isNull(outsideCheckouts.endedAt)));
		if (ended.affectedRows === 1)
			await work.note({ action: 'ended-outside-checkout', subject: { kind: 'outside-checkout', id } });
	});
}

export async function outsideCheckoutsThere(app: Using<'db'>) {
	const { id, name, createdAt, endedAt } = outsideCheckouts;
	return app.db.select({ id, name, createdAt, endedAt }).from(outsideCheckouts).orderBy(asc(createdAt));
}

/** What a checkout's calls are signed with; `null`: there is none of that name, or it is not listened to any more. */
export async function secretOfOutside(app: Using<'db' | 'keys'>, id: string): Promise<string | null> {
	if (!/^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(id)) return null;
	const [row] = await app.db
		.select()
		.from(outsideCheckouts)
		.where(and(eq(outsideCheckouts.id, id), isNull(outsideCheckouts.endedAt)));
	if (!row) return null;
	const secret = app.keys.unseal(sealedFor(id), { keyId: row.keyId, wrapped: row.sealed });
	if (secret === null)
		throw new Error(`The secret of a checkout elsewhere cannot be opened under key ${row.keyId}`);
	return secret;
}
