/** Elsewhere's mailing list: it is told by signed calls who joins a plan and who leaves it, and can be out of order. */
import type { IncomingMessage, ServerResponse } from 'node:http';
import { verifyMessage } from '../../src/server/adapters/message-signature';
import { bodyOf, escape, formOf, html, page, redirect } from '../lib/page';

const ANSWERS = {
	well: 'takes what it is told',
	away: 'answers 503',
	unwilling: 'answers 422',
	silent: 'takes the call and never answers',
	moved: 'sends on to another address',
	endless: 'answers with megabytes'
} as const;
type Answer = keyof typeof ANSWERS;

const MEGABYTES = 8;
const CALLS_SHOWN = 30;

let secret = '';
let answer: Answer = 'well';
/** `address plan`, as it is told. */
const list = new Map<string, { email: string; plan: string }>();
/** The ids of calls that were taken: the same twice changes nothing. */
const taken = new Set<string>();
const told: string[] = [];

interface Call {
	id: string;
	event: string;
	member?: { email: string };
	plan?: { id: string; name: string };
	order?: { number: string; total: string; currency: string };
}

export async function answerTold(req: IncomingMessage, res: ServerResponse): Promise<void> {
	const body = await bodyOf(req);
	const message = {
		...{ method: 'POST', path: '/told', body: new TextEncoder().encode(body) },
		header: (name: string) => [req.headers[name] ?? []].flat()[0] ?? null
	};
	if (answer === 'silent') return;
	if (answer === 'moved') return void res.writeHead(302, { location: '/sounds/tick.wav' }).end();
	const found = verifyMessage(message, secret, Math.floor(Date.now() / 1000));
	if (!found.ok) return say(res, 401, `The call is ${found.code}.`);
	if (answer === 'away') return say(res, 503, 'Not now.');
	if (answer === 'unwilling') return say(res, 422, 'No list is called that.');
	take(JSON.parse(body) as Call);
	if (answer === 'endless') return say(res, 200, 'x'.repeat(MEGABYTES * 2 ** 20));
	say(res, 200, 'Taken.');
}

function say(res: ServerResponse, status: number, text: string): void {
	res.writeHead(status, { 'content-type': 'text/plain; charset=utf-8' }).end(text);
}

function take({ id, event, member, plan, order }: Call): void {
	if (taken.has(id)) return;
	taken.add(id);
	const key = `${member?.email} ${plan?.id}`;
	if (event === 'joined' && member && plan) list.set(key, { email: member.email, plan: plan.name });
	if (event === 'left') list.delete(key);
	const about = [member?.email, event, plan?.name, order && `for ${order.total} ${order.currency}`];
	told.unshift(about.filter((one) => one !== undefined).join(' '));
}

export function listPage(res: ServerResponse): void {
	const rows = [...list.values()].map(
		({ email, plan }) => `<tr><td>${escape(email)}</td><td>${escape(plan)}</td></tr>`
	);
	const choices = Object.entries(ANSWERS).map(
		([value, text]) =>
			`<label><input type="radio" name="answer" value="${value}"${value === answer ? ' checked' : ''}> ${text}</label>`
	);
	html(
		res,
		page(
			'Elsewhere',
			`<h1>A mailing list</h1>
<table><tr><th>Address</th><th>Because of</th></tr>${rows.join('')}</table>
<h2>Told</h2><ol>${told
				.slice(0, CALLS_SHOWN)
				.map((one) => `<li>${escape(one)}</li>`)
				.join('')}</ol>
<form method="post" action="/list"><label>The secret of its calls <input name="secret" value="${escape(secret)}" size="60"></label>
<fieldset><legend>It</legend>${choices.join('')}</fieldset><button>Keep it</button></form>`
		)
	);
}

export async function setList(req: IncomingMessage, res: ServerResponse): Promise<void> {
	const form = await formOf(req);
	secret = form.get('secret') ?? '';
	const wanted = form.get('answer') ?? '';
	if (wanted in ANSWERS) answer = wanted as Answer;
	redirect(res, '/list');
}
