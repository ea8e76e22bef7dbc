/**
 * By which mails are known to be the publisher's: a key that they are signed with, and what the names of the domain say. Nothing
 * is signed before the key stands in its name: receivers would find a signature and no key.
 */
import { generateKeyPair } from 'node:crypto';
import { promisify } from 'node:util';
import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import {
	dmarcNames,
	domainOfAddress,
	judgeDkim,
	judgeDmarc,
	judgeSpf,
	selectorOf,
	wantedDkim,
	wantedDmarc,
	wantedSpf
} from '$core/mail/sender-records';
import type { Using } from '../../app';
import { DUPLICATE_KEY, errorNumber } from '../../db/connect';
import { senderKeysOf, senderLookAt, signingKey, type SenderKey } from '../../db/queries/senders';
import { senderKeys, senderLooks, type RecordLook } from '../../db/schema/senders';
import { need, type Staff } from '../../people/need';
import type { MailSigner } from '../../ports/mail';
import { transact, type Transacting } from '../../transact';

/** RFC 8301 §3.2: at least this long. */
const KEY_BITS = 2048;
/** So often it is looked at by itself. */
const LOOKED_EVERY_MS = 20 * 3_600_000;
const made = promisify(generateKeyPair);

export type SenderKeyMade =
	| { ok: true }
	/** `no-domain`: mails come from an address without one. `waits`: the last one does not stand in its name yet. */
	| { ok: false; code: 'no-domain' | 'waits' };

/** Makes a key for the domain that mails come from; the one before signs on until the new one stands in its name. */
export async function makeSenderKey(
	app: Transacting & Using<'keys' | 'site'>,
	actor: Staff
): Promise<SenderKeyMade> {
	need(actor, 'settings');
	const domain = domainOfAddress((await app.site()).senderEmail);
	if (domain === null) return { ok: false, code: 'no-domain' };
	const { publicKey, privateKey } = await made('rsa', {
		modulusLength: KEY_BITS,
		publicKeyEncoding: { type: 'spki', format: 'der' },
		privateKeyEncoding: { type: 'pkcs8', format: 'pem' }
	});
	try {
		return await transact<SenderKeyMade>(app, actor, async (work) => {
			const [last] = await senderKeysOf(work.tx, domain);
			if (last && !last.signs) return { ok: false, code: 'waits' };
			const id = uuidv7();
			const { keyId, wrapped: sealed } = app.keys.seal(sealedFor(id), privateKey);
			const key = { id, domain, number: (last?.number ?? 0) + 1, keyId, sealed };
			await work.tx
				.insert(senderKeys)
				.values({ ...key, publicKey: publicKey.toString('base64'), createdAt: work.wall });
			await work.note({
				action: 'made-sender-key',
				subject: { kind: 'sender', id },
				after: { domain, selector: selectorOf(key) }
			});
			return { ok: true };
		});
	} catch (error) {
		// Of two presses at once, one has made it.
		if (errorNumber(error) === DUPLICATE_KEY) return { ok: false, code: 'waits' };
		throw error;
	}
}

type Looking = Transacting & Using<'names' | 'settings' | 'site'>;

/** Looks at what the names of the domain say, and lets the keys sign that stand in theirs. `false`: there is no domain. */
export async function lookAtSender(app: Looking, actor: Staff): Promise<boolean> {
	need(actor, 'settings');
	return lookNow(app);
}

/** Once a day, where a key was made. */
export async function lookAtSenderDaily(app: Looking): Promise<void> {
	const domain = domainOfAddress((await app.site()).senderEmail);
	if (domain === null || (await senderKeysOf(app.db, domain)).length === 0) return;
	const last = await senderLookAt(app.db, domain);
	if (last && app.clock.wall() - last.at < LOOKED_EVERY_MS) return;
	await lookNow(app);
}

async function lookNow(app: Looking): Promise<boolean> {
	const domain = domainOfAddress((await app.site()).senderEmail);
	if (domain === null) return false;
	const keys = (await senderKeysOf(app.db, domain)).filter(({ signs }, n) => signs || n === 0);
	const [spf, dmarc, dkims] = await Promise.all([
		lookAtSpf(app, domain),
		lookAtDmarc(app, domain),
		Promise.all(keys.map((key) => lookAtKey(app, key)))
	]);
	await transact(app, null, async (work) => {
		for (const { key, look } of dkims) {
			const { state } = look.verdict;
			if (state === 'no-answer') continue;
			const signs = state === 'good';
			await work.tx.update(senderKeys).set({ signs }).where(eq(senderKeys.id, key.id));
		}
		const row = { at: work.wall, spf, dmarc, dkim: dkims[0]?.look ?? null };
		await work.tx
			.insert(senderLooks)
			.values({ domain, ...row })
			.onDuplicateKeyUpdate({ set: row });
	});
	return true;
}

async function lookAtSpf({ names, settings }: Looking, domain: string): Promise<RecordLook> {
	const found = await names.texts(domain);
	const verdict = judgeSpf(found);
	const server = new URL(settings.smtpUrl).hostname.replace(/^\[|\]$/g, '');
	const isWanted = verdict.state === 'missing' || verdict.state === 'lets-anybody';
	return { name: domain, verdict, wanted: isWanted ? wantedSpf(domain, server, found) : null };
}

async function lookAtDmarc({ names }: Looking, domain: string): Promise<RecordLook> {
	const wanted = wantedDmarc(domain);
	for (const name of dmarcNames(domain)) {
		const verdict = judgeDmarc(await names.texts(name));
		if (verdict.state !== 'missing') return { name, verdict, wanted: null };
	}
	return { name: wanted.name, verdict: { state: 'missing' }, wanted };
}

async function lookAtKey({ names }: Looking, key: SenderKey): Promise<{ key: SenderKey; look: RecordLook }> {
	const wanted = wantedDkim(key.domain, selectorOf(key), key.publicKey);
	const verdict = judgeDkim(await names.texts(wanted.name), key.publicKey);
	return { key, look: { name: wanted.name, verdict, wanted: verdict.state === 'good' ? null : wanted } };
}

/** What the mails from an address are signed with; `null`: they are not signed. */
export async function signerOfMails(
	{ db, keys }: Using<'db' | 'keys'>,
	senderEmail: string
): Promise<MailSigner | null> {
	const domain = domainOfAddress(senderEmail);
	const key = domain === null ? null : await signingKey(db, domain);
	const privateKey = key && keys.unseal(sealedFor(key.id), { keyId: key.keyId, wrapped: key.sealed });
	return key && privateKey ? { domain: key.domain, selector: selectorOf(key), privateKey } : null;
}

function sealedFor(id: string): string {
	return `sender-key ${id}`;
}
