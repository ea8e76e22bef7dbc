/**
 * The Postbox: receives real SMTP and shows the mails. It also answers for the names of the demo's domain, as a name server,
 * and has the mailbox into which servers report what became of a mail: which report, is chosen at each mail.
 *
 *   GET /   all mails          GET /mails/<id>   one          GET /api/mails?to=<address>   as JSON, the newest first
 *   GET /names   what is written in them          POST /names   writes a text into one, or takes its texts out
 *   POST /mails/<id>/returned   writes such a report          POST /turned-down   names an address that is turned down
 */
import { randomUUID } from 'node:crypto';
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { join } from 'node:path';
import { simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import { Mailbox } from './mailbox';
import { reportOf, STORIES, type Story } from './returned';
import { escape, formOf, html, json, page, portFrom, redirect } from '../lib/page';
import { Names } from './names';

interface KeptMail {
	id: string;
	to: string;
	from: string;
	subject: string;
	text: string;
	html: string;
	at: string;
	messageId?: string | undefined;
	/** The name of the key that it is signed with (DKIM), as it says itself. */
	signedBy?: string | undefined;
}

const port = portFrom('POSTBOX_PORT');
const smtpPort = portFrom('POSTBOX_SMTP_PORT');
const folder = process.env.POSTBOX_FOLDER ?? '.stile/postbox';
mkdirSync(folder, { recursive: true });

const mails: KeptMail[] = readdirSync(folder)
	.filter((name) => name.endsWith('.json'))
	.map((name) => JSON.parse(readFileSync(join(folder, name), 'utf8')) as KeptMail)
	.sort((a, b) => a.at.localeCompare(b.at));

const smtp = new SMTPServer({
	authOptional: true,
	disabledCommands: ['STARTTLS'],
	onRcptTo({ address }, _session, done) {
		if (turnedDown.has(address.toLowerCase()))
			done(Object.assign(new Error('5.1.1 No such user here'), { responseCode: 550 }));
		else done();
	},
	onData(stream, session, done) {
		simpleParser(stream).then(
			(parsed) => {
				keep({
					id: randomUUID(),
					to: session.envelope.rcptTo.map((to) => to.address).join(', '),
					from: parsed.from?.text ?? '',
					subject: parsed.subject ?? '',
					text: parsed.text ?? '',
					html: parsed.html || '',
					at: new Date().toISOString(),
					messageId: parsed.messageId,
					signedBy: signedBy(parsed.headers.get('dkim-signature'))
				});
				done();
			},
			(error: Error) => done(error)
		);
	}
});

function signedBy(header: unknown): string | undefined {
	const { params } = (header ?? {}) as { params?: Record<string, string> };
	return params?.d && params.s ? `${params.s}._domainkey.${params.d}` : undefined;
}

function keep(mail: KeptMail): void {
	mails.push(mail);
	writeFileSync(join(folder, `${mail.id}.json`), JSON.stringify(mail));
}

const names = new Names(join(folder, 'names'));
const mailbox = new Mailbox(join(folder, 'mailbox'));
/** Addresses that the server turns down at once. */
const turnedDown = new Set<string>();

const server = createServer((req, res) => {
	answer(req, res).catch((error: unknown) => {
		console.error(error);
		if (!res.headersSent) json(res, { error: String(error) }, 500);
	});
});

async function answer(req: IncomingMessage, res: ServerResponse): Promise<void> {
	const { pathname, searchParams } = new URL(req.url ?? '/', `http://127.0.0.1:${port}`);
	const to = searchParams.get('to')?.toLowerCase() ?? null;
	const found = mails.filter((mail) => to === null || mail.to.toLowerCase() === to).reverse();
	if (pathname === '/api/mails') return json(res, found);
	if (pathname === '/') return html(res, list(found, to));
	if (pathname === '/names' && req.method === 'POST') {
		const form = await formOf(req);
		names.write(form.get('name') ?? '', form.get('text') ?? '', form.get('do') === 'add');
		return redirect(res, '/names');
	}
	if (pathname === '/names') return html(res, written());
	if (pathname === '/turned-down' && req.method === 'POST') {
		const form = await formOf(req);
		const address = (form.get('address') ?? '').trim().toLowerCase();
		if (form.get('do') === 'add') turnedDown.add(address);
		else turnedDown.delete(address);
		return redirect(res, '/');
	}
	const mail = mails.find((m) => pathname.replace(/\/returned$/, '') === `/mails/${m.id}`);
	if (mail && pathname.endsWith('/returned') && req.method === 'POST') {
		const story = (await formOf(req)).get('story') ?? '';
		if (!Object.hasOwn(STORIES, story)) return json(res, { error: 'There is no such story' }, 400);
		mailbox.add(reportOf({ ...mail, messageId: mail.messageId ?? '' }, story as Story));
		return redirect(res, `/mails/${mail.id}?returned=${story}`);
	}
	return mail
		? html(res, one(mail, searchParams.get('returned')))
		: html(res, page('Not found', '<h1>Not found</h1>'), 404);
}

function list(found: KeptMail[], to: string | null): string {
	const rows = found
		.slice(0, 200)
		.map(
			(m) =>
				`<tr><td><a href="/mails/${m.id}">${escape(m.subject)}</a></td><td>${escape(m.to)}</td><td>${escape(m.at.slice(0, 19).replace('T', ' '))}</td></tr>`
		);
	return page(
		'The Postbox',
		`<h1>The Postbox</h1><p class="quiet">Every mail that Stile sends in the demo ends here: ${found.length} of them.</p>
<p><a href="/names">The names of the demo’s domain</a></p>
<form method="post" action="/turned-down"><label>No such user: <input name="address" type="email" required></label><button name="do" value="add">Turn it down</button>${[...turnedDown].map((address) => `<p>${escape(address)} is turned down.</p>`).join('')}</form>
<form><label>Only for <input name="to" type="email" value="${escape(to ?? '')}"></label><button>Show</button></form>
<table><tr><th>Subject</th><th>To</th><th>Received (UTC)</th></tr>${rows.join('')}</table>`
	);
}

function written(): string {
	const rows = names
		.all()
		.map(
			({ name, text }) =>
				`<tr><td>${escape(name)}</td><td style="overflow-wrap:anywhere">${escape(text)}</td><td><form method="post"><input type="hidden" name="name" value="${escape(name)}"><button name="do" value="clear">Take out</button></form></td></tr>`
		);
	return page(
		'The names',
		`<p><a href="/">All mails</a></p><h1>The names of the demo’s domain</h1>
<p class="quiet">Stile asks here what a domain says of its mails, as it would ask the name servers of the world. Each is a TXT record.</p>
<form method="post"><label>Name <input name="name" size="60" required></label><label>Text <textarea name="text" rows="4" cols="80" required></textarea></label><button name="do" value="add">Write it</button></form>
<table><tr><th>Name</th><th>Text</th><th></th></tr>${rows.join('')}</table>`
	);
}

/** The mail's HTML stands in a frame without scripts; its links open in the whole window. */
function one(mail: KeptMail, returned: string | null): string {
	const stories = Object.entries(STORIES).map(
		([story, words]) => `<button name="story" value="${story}">${escape(words)}</button>`
	);
	const said =
		returned !== null && Object.hasOwn(STORIES, returned)
			? `<p role="status">Reported to the mailbox: ${escape(STORIES[returned as Story])}.</p>`
			: '';
	const framed = mail.html.replace('<html', '<base target="_top"><html');
	return page(
		mail.subject,
		`<p><a href="/">All mails</a></p><h1>${escape(mail.subject)}</h1><p class="quiet">From ${escape(mail.from)} to ${escape(mail.to)}, ${escape(mail.at)}${mail.signedBy ? `, signed by ${escape(mail.signedBy)}` : ', not signed'}</p>
${said}<form method="post" action="/mails/${mail.id}/returned"><p>What becomes of it: ${stories.join(' ')}</p></form>
<iframe sandbox="allow-top-navigation-by-user-activation" srcdoc="${escape(framed)}" title="The mail"></iframe><h2>As text</h2><pre>${escape(mail.text)}</pre>`
	);
}

function stop(): void {
	names.close();
	mailbox.close();
	smtp.close(() => server.close(() => process.exit(0)));
	server.closeAllConnections();
}
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
smtp.listen(smtpPort, '127.0.0.1');
names.listen(portFrom('POSTBOX_NAMES_PORT'));
void mailbox.listen(portFrom('POSTBOX_IMAP_PORT'));
server.listen(port, '127.0.0.1', () =>
	console.log(`The Postbox listens on http://127.0.0.1:${port}, SMTP on ${smtpPort}`)
);
