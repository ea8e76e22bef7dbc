/**
 * By which mails are known to be the publisher's. What is signed here is read by `mailauth`, which checks SPF (RFC 7208),
 * DKIM (RFC 6376) and DMARC (RFC 7489) as receivers do.
 */
import { createSocket } from 'node:dgram';
import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import { text } from 'node:stream/consumers';
import { authenticate } from 'mailauth';
import { SMTPServer } from 'smtp-server';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { judgeDkim, wantedDkim, wantedDmarc, wantedSpf } from '$core/mail/sender-records';
import { dnsNames } from '$server/adapters/dns-names';
import { smtpMailer } from '$server/adapters/smtp-mailer';
import { senderKeysOf } from '$server/db/queries/senders';
import type { Mail } from '$server/ports/mail';
import { senderInTrouble, senderPage } from '$server/reads/desk/sender';
import { saveSite } from '$server/usecases/running/save-site';
import {
	lookAtSender,
	lookAtSenderDaily,
	makeSenderKey,
	signerOfMails
} from '$server/usecases/running/senders';
import { Names } from '../../standins/postbox/names';
import { makeWorld, scratch, type World } from './world';

const FROM = 'school@clock.example';
const SERVER = 'mail.clock.example';
const SERVER_IP = '192.0.2.7';
const SELECTORS = ['stile1', 'stile2'].map((one) => `${one}._domainkey.clock.example`);

let world: World;
/** What stands in the names; `null`: nobody answers. */
let names: Map<string, string[]> | null;

beforeEach(async () => {
	world = await makeWorld();
	names = new Map();
	world.app.names = { texts: async (name) => (names === null ? null : (names.get(name) ?? [])) };
	await comeFrom(FROM);
});
afterEach(async () => world.end());

async function comeFrom(senderEmail: string) {
	const site = await world.app.site();
	const saved = await saveSite(world.app, null, 'mail', { ...site, senderEmail });
	expect(saved.kind).toBe('saved');
}

const signer = () => signerOfMails(world.app, FROM);
const newest = async () => (await senderKeysOf(world.app.db, 'clock.example'))[0]!;
const states = async () => {
	const { look } = await senderPage(world.app);
	return [look?.spf, look?.dkim, look?.dmarc].map((one) => one?.verdict.state);
};

/** Writes what the page wants to have written. */
async function writeWanted() {
	const { look } = await senderPage(world.app);
	for (const wanted of [look?.spf.wanted, look?.dkim?.wanted, look?.dmarc.wanted])
		if (wanted) names?.set(wanted.name, [wanted.text]);
}

/** As a receiver finds it, whole. */
async function received(mail: Omit<Mail, 'key'>): Promise<string> {
	const raw: Promise<string>[] = [];
	const smtp = new SMTPServer({
		disabledCommands: ['AUTH', 'STARTTLS'],
		onData(stream, _session, done) {
			raw.push(text(stream));
			stream.on('end', () => done());
		}
	});
	smtp.listen(0, '127.0.0.1');
	await once(smtp.server, 'listening');
	const mailer = smtpMailer(`smtp://127.0.0.1:${(smtp.server.address() as AddressInfo).port}`, null);
	await mailer.send({ name: 'Clock School', email: FROM }, { ...mail, key: 'one' }, await signer());
	mailer.close();
	await new Promise<void>((resolve) => smtp.close(resolve));
	return (await raw[0]) ?? '';
}

const resolver = async (name: string, kind: string) => {
	const found = kind === 'TXT' ? names?.get(name) : kind === 'A' && name === SERVER ? [SERVER_IP] : null;
	if (!found) throw Object.assign(new Error(`nothing at ${name}`), { code: 'ENOTFOUND' });
	return kind === 'TXT' ? found.map((one) => [one]) : found;
};
const MAIL = { to: 'wren@mail.example', subject: 'Ünlocked: “Wheel”', text: 'Hello', html: '<p>Hello</p>' };
const judged = (raw: string) =>
	authenticate(raw, { sender: FROM, ip: SERVER_IP, helo: SERVER, mta: 'mx.mail.example', resolver });

describe('a mail', () => {
	it('is signed once the key stands in its name, and passes all three where what is wanted is written', async () => {
		world.app.settings.smtpUrl = `smtp://${SERVER}:587`;
		expect(await makeSenderKey(world.app, null)).toEqual({ ok: true });
		await lookAtSender(world.app, null);
		expect([await states(), await signer()]).toEqual([['missing', 'missing', 'missing'], null]);
		expect(await received(MAIL)).not.toContain('DKIM-Signature');
		await writeWanted();
		await lookAtSender(world.app, null);
		expect(await states()).toEqual(['good', 'good', 'good']);
		const { spf, dkim, dmarc } = await judged(await received(MAIL));
		expect([spf && spf.status.result, dmarc && dmarc.status.result]).toEqual(['pass', 'pass']);
		expect(dkim.results).toMatchObject([
			{ signingDomain: 'clock.example', selector: 'stile1', status: { result: 'pass' } }
		]);
	});

	it('is signed with where it is ended, which receivers ask for before they offer the press (RFC 8058 §4)', async () => {
		await makeSenderKey(world.app, null);
		await lookAtSender(world.app, null);
		await writeWanted();
		await lookAtSender(world.app, null);
		const raw = await received({ ...MAIL, endedAt: 'https://clock.example/mails/abc' });
		const { dkim } = await judged(raw);
		const [result] = dkim.results as { signingHeaders?: { keys: string } }[];
		const headers = result?.signingHeaders?.keys.toLowerCase().split(/[:,;\s]+/);
		expect(headers).toEqual(expect.arrayContaining(['list-unsubscribe', 'list-unsubscribe-post', 'from']));
		// Changed on the way, it is known to be.
		const changed = await judged(raw.replace('/mails/abc', '/mails/abd'));
		expect(changed.dkim.results[0]?.status.result).toBe('fail');
	});

	it('goes unsigned from another domain, and where the key stands in its name no more; not where nobody answers', async () => {
		await makeSenderKey(world.app, null);
		await lookAtSender(world.app, null);
		await writeWanted();
		await lookAtSender(world.app, null);
		expect(await signer()).toMatchObject({ domain: 'clock.example', selector: 'stile1' });
		expect(await signerOfMails(world.app, 'school@else.example')).toBeNull();
		names = null;
		await lookAtSender(world.app, null);
		expect([await states(), (await signer()) !== null]).toEqual([
			...[['no-answer', 'no-answer', 'no-answer'], true]
		]);
		expect(await senderInTrouble(world.app)).toEqual([]);
		names = new Map([[SELECTORS[0]!, ['v=DKIM1; p=']]]);
		await lookAtSender(world.app, null);
		expect([await states(), await signer()]).toEqual([['missing', 'taken-back', 'missing'], null]);
		expect(await senderInTrouble(world.app)).toEqual(['spf', 'dkim', 'dmarc']);
	});
});

describe('a key', () => {
	it('is followed by another that signs when it stands in its name, and not before; then the first may go', async () => {
		await makeSenderKey(world.app, null);
		expect(await makeSenderKey(world.app, null)).toEqual({ ok: false, code: 'waits' });
		await lookAtSender(world.app, null);
		await writeWanted();
		await lookAtSender(world.app, null);
		expect(await makeSenderKey(world.app, null)).toEqual({ ok: true });
		await lookAtSender(world.app, null);
		expect([(await signer())?.selector, (await states())[1]]).toEqual(['stile1', 'missing']);
		await writeWanted();
		await lookAtSender(world.app, null);
		expect((await signer())?.selector).toBe('stile2');
		names?.delete(SELECTORS[0]!);
		await lookAtSender(world.app, null);
		expect([(await signer())?.selector, await states()]).toEqual(['stile2', ['good', 'good', 'good']]);
	});

	it('is one, where two make one at the same moment', async () => {
		const made = await Promise.all([makeSenderKey(world.app, null), makeSenderKey(world.app, null)]);
		expect(made.filter(({ ok }) => ok)).toHaveLength(1);
		expect(await senderKeysOf(world.app.db, 'clock.example')).toHaveLength(1);
	});

	it('is of 2048 bits, and lies in the database sealed for its row alone', async () => {
		await makeSenderKey(world.app, null);
		const { publicKey, sealed, keyId, id } = await newest();
		expect(Buffer.from(publicKey, 'base64').length).toBeGreaterThan(256);
		expect(sealed).not.toContain('PRIVATE KEY');
		expect(world.app.keys.unseal(`sender-key ${id}`, { keyId, wrapped: sealed })).toContain('PRIVATE KEY');
		expect(world.app.keys.unseal('sender-key else', { keyId, wrapped: sealed })).toBeNull();
	});

	it('is made for no address without a domain', async () => {
		await comeFrom('school@localhost');
		expect(await makeSenderKey(world.app, null)).toEqual({ ok: false, code: 'no-domain' });
		expect(await lookAtSender(world.app, null)).toBe(false);
		expect(await senderPage(world.app)).toMatchObject({ domain: null });
	});
});

describe('by itself', () => {
	it('is looked once a day, from the first key on', async () => {
		let asked = 0;
		world.app.names = { texts: async () => (asked++, []) };
		await lookAtSenderDaily(world.app);
		expect(asked).toBe(0);
		await makeSenderKey(world.app, null);
		await lookAtSenderDaily(world.app);
		const once = asked;
		expect(once).toBeGreaterThan(0);
		await lookAtSenderDaily(world.app);
		expect(asked).toBe(once);
		const wall = world.app.clock.wall();
		world.app.clock.wall = () => wall + 86_400_000;
		await lookAtSenderDaily(world.app);
		expect(asked).toBe(2 * once);
	});
});

describe('names', () => {
	it('are read as they stand, long ones too; nothing there is nothing, and no answer is none', async () => {
		const port = await freePort();
		const server = new Names(scratch('names.json'));
		server.listen(port);
		const { name, text: long } = wantedDkim('clock.example', 'stile1', 'A'.repeat(392));
		for (const one of [{ name, text: long }, wantedSpf('clock.example', SERVER, null)])
			server.write(one.name, one.text, true);
		server.write('clock.example', 'site-verification=1', true);
		const asked = dnsNames([`127.0.0.1:${port}`]);
		expect(judgeDkim(await asked.texts(name), 'A'.repeat(392))).toEqual({ state: 'good' });
		expect([...((await asked.texts('clock.example')) ?? [])].sort()).toEqual([
			'site-verification=1',
			'v=spf1 a:mail.clock.example ~all'
		]);
		expect(await asked.texts(wantedDmarc('clock.example').name)).toEqual([]);
		server.close();
		expect(await dnsNames([`127.0.0.1:${port}`]).texts('clock.example')).toBeNull();
	});
});

async function freePort(): Promise<number> {
	const socket = createSocket('udp4');
	socket.bind(0, '127.0.0.1');
	await once(socket, 'listening');
	const { port } = socket.address();
	socket.close();
	return port;
}
