/**
 * The Postbox: receives real SMTP and shows the mails.
 *
 *   GET /   all mails          GET /mails/<id>   one          GET /api/mails?to=<address>   as JSON, the newest first
 */
import { randomUUID } from 'node:crypto';
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { join } from 'node:path';
import { simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import { escape, html, json, page, portFrom } from '../lib/page';

interface KeptMail {
	id: string;
	to: string;
	from: string;
	subject: string;
	text: string;
	html: string;
	at: string;
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
					at: new Date().toISOString()
				});
				done();
			},
			(error: Error) => done(error)
		);
	}
});

function keep(mail: KeptMail): void {
	mails.push(mail);
	writeFileSync(join(folder, `${mail.id}.json`), JSON.stringify(mail));
}

const server = createServer((req, res) => {
	const { pathname, searchParams } = new URL(req.url ?? '/', `http://127.0.0.1:${port}`);
	const to = searchParams.get('to')?.toLowerCase() ?? null;
	const found = mails.filter((mail) => to === null || mail.to.toLowerCase() === to).reverse();
	if (pathname === '/api/mails') return json(res, found);
	if (pathname === '/') return html(res, list(found, to));
	const mail = mails.find((m) => pathname === `/mails/${m.id}`);
	return mail ? html(res, one(mail)) : html(res, page('Not found', '<h1>Not found</h1>'), 404);
});

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
<form><label>Only for <input name="to" type="email" value="${escape(to ?? '')}"></label><button>Show</button></form>
<table><tr><th>Subject</th><th>To</th><th>Received (UTC)</th></tr>${rows.join('')}</table>`
	);
}

/** The mail's HTML stands in a frame without scripts; its links open in the whole window. */
function one(mail: KeptMail): string {
	const framed = mail.html.replace('<html', '<base target="_top"><html');
	return page(
		mail.subject,
		`<p><a href="/">All mails</a></p><h1>${escape(mail.subject)}</h1><p class="quiet">From ${escape(mail.from)} to ${escape(mail.to)}, ${escape(mail.at)}</p>
<iframe sandbox="allow-top-navigation-by-user-activation" srcdoc="${escape(framed)}" title="The mail"></iframe><h2>As text</h2><pre>${escape(mail.text)}</pre>`
	);
}

function stop(): void {
	smtp.close(() => server.close(() => process.exit(0)));
	server.closeAllConnections();
}
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
smtp.listen(smtpPort, '127.0.0.1');
server.listen(port, '127.0.0.1', () =>
	console.log(`The Postbox listens on http://127.0.0.1:${port}, SMTP on ${smtpPort}`)
);
