/** Keys of outside programs. A key is shown once; only its hash is kept. */
import { and, desc, eq, isNull } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { Using } from '../../app';
import { apiKeys } from '../../db/schema/running';
import { hashOf, newToken } from '../../people/sessions';
import { transact, type Transacting } from '../../transact';
import { need, type Staff } from '../../people/need';

const PREFIX = 'stile_';

export async function makeApiKey(app: Transacting, actor: Staff, name: string): Promise<string> {
	need(actor, 'settings');
	const key = PREFIX + newToken();
	await transact(app, actor, async (work) => {
		const id = uuidv7();
		await work.tx.insert(apiKeys).values({ id, name, keyHash: hashOf(key), createdAt: app.clock.wall() });
		await work.note({ action: 'made-api-key', subject: { kind: 'api-key', id }, after: name });
	});
	return key;
}

export async function revokeApiKey(app: Transacting, actor: Staff, id: string): Promise<void> {
	need(actor, 'settings');
	await transact(app, actor, async (work) => {
		await work.tx
			.update(apiKeys)
			.set({ revokedAt: app.clock.wall() })
			.where(and(eq(apiKeys.id, id), isNull(apiKeys.revokedAt)));
		await work.note({ action: 'revoked-api-key', subject: { kind: 'api-key', id } });
	});
}

export async function allApiKeys(app: Using<'db'>) {
	return app.db
		.select({
			id: apiKeys.id,
			name: apiKeys.name,
			createdAt: apiKeys.createdAt,
			revokedAt: apiKeys.revokedAt
		})
		.from(apiKeys)
		.orderBy(desc(apiKeys.createdAt));
}

/** Whether a request's `Authorization` header carries a key in force. */
export async function isApiKey(app: Using<'db'>, header: string | null): Promise<boolean> {
	const key = /^Bearer (\S+)$/.exec(header ?? '')?.[1];
	if (!key?.startsWith(PREFIX)) return false;
	const [row] = await app.db
		.select({ id: apiKeys.id })
		.from(apiKeys)
		.where(and(eq(apiKeys.keyHash, hashOf(key)), isNull(apiKeys.revokedAt)));
	return row !== undefined;
}
