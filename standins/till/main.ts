/**
 * The Till: a payment processor in small. It vaults test cards, executes charges and refunds, and tells of what happened.
 *
 *   POST /api/sessions · /api/cards · /api/sessions/<ref>/end · /api/charges · /api/payments/<ref>/refund
 *   GET /api/payments/<ref> · /api/charges/<idempotency key> · /api/changes?after=<number>    (bearer secret)
 *   GET, POST /pay/<ref>   its own pay page          GET /   payments, and how notifications go out
 *   GET /notifications     each that was told, to be repeated, delayed or dropped, and forged
 */
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { formatMoney, MINOR_DIGITS } from '../../src/core/billing/money';
import { bodyOf, escape, formOf, html, json, page, portFrom, redirect } from '../lib/page';
import { TEST_CARDS, testCard, type TestCard, type TestCardKind } from '../../src/core/billing/test-cards';
import { Book, DELIVERIES, type Delivery, type TillPayment } from './book';
import { FORGERIES, LATE_MS, Notifier, type Forgery } from './notifier';

const port = portFrom('TILL_PORT');
const secret = process.env.TILL_SECRET ?? '';
const origin = `http://127.0.0.1:${port}`;
const book = new Book(process.env.TILL_BOOK ?? '.stile/till.json');
const notifier = new Notifier(book, process.env.TILL_NOTIFY_URL ?? '', secret);

const server = createServer((req, res) => {
	route(req, res).catch((error: unknown) => {
		console.error(error);
		if (!res.headersSent) json(res, { error: String(error) }, 500);
	});
});

async function route(req: IncomingMessage, res: ServerResponse): Promise<void> {
	const { pathname, searchParams } = new URL(req.url ?? '/', origin);
	const call = `${req.method} ${pathname}`;
	if (pathname.startsWith('/api/')) {
		if (req.headers.authorization !== `Bearer ${secret}`) return json(res, { error: 'wrong secret' }, 401);
		if (book.contents.isAway) return json(res, { error: 'away' }, 503);
		if (call === 'GET /api/changes') return json(res, changes(Number(searchParams.get('after') ?? 0)));
		return api(req, res, call);
	}
	const [, of, deed] = /^POST \/payments\/([\w-]+)\/(dispute|won|lost|refund)$/.exec(call) ?? [];
	if (of) return carryOut(req, res, of, deed as Deed);
	const payRef = /^\/pay\/([\w-]+)$/.exec(pathname)?.[1];
	if (payRef) return req.method === 'POST' ? pay(req, res, payRef) : html(res, payPage(payRef));
	if (call === 'POST /deliveries') return setDelivery(req, res);
	if (call === 'GET /') return html(res, overview());
	if (call === 'GET /notifications') return html(res, notificationsPage());
	if (call === 'POST /notifications') return handleNotification(req, res);
	html(res, page('Not found', '<h1>Not found</h1>'), 404);
}

async function api(req: IncomingMessage, res: ServerResponse, call: string): Promise<void> {
	const key = String(req.headers['idempotency-key'] ?? '');
	const ref = /^(?:GET|POST) \/api\/payments\/([\w-]+)/.exec(call)?.[1] ?? '';
	const known = lookedUp(ref);
	if (ref && !known) return json(res, { error: 'unknown payment' }, 404);
	if (known && call === `GET /api/payments/${ref}`) return json(res, shown(known));
	const asked = /^GET \/api\/charges\/([0-9a-f]+)$/.exec(call)?.[1];
	if (asked) {
		const charged = book.contents.payments[book.contents.keys[asked] ?? ''];
		return charged ? json(res, shown(charged)) : json(res, { error: 'unknown charge' }, 404);
	}
	if (req.method !== 'POST' || key === '')
		return json(res, { error: 'unknown call, or no idempotency key' }, 400);
	const ask = JSON.parse(await bodyOf(req)) as Partial<TillPayment>;
	if (call === 'POST /api/sessions' || call === 'POST /api/cards') {
		const isCardOnly = call === 'POST /api/cards';
		const made = book.once(key, () => ({ ...newPayment(ask, 'pending'), isCardOnly }));
		return json(res, { ...made, payUrl: `${origin}/pay/${made.ref}` });
	}
	const ended = /^POST \/api\/sessions\/([\w-]+)\/end$/.exec(call)?.[1];
	if (ended) {
		const session = book.contents.payments[ended];
		if (!session) return json(res, { error: 'unknown session' }, 404);
		if (session.state === 'pending') move(session, 'expired');
		return json(res, shown(session));
	}
	if (call === 'POST /api/charges') return json(res, shown(charge(key, ask)));
	if (known && call === `POST /api/payments/${ref}/refund`) {
		const { own = null, amountMinor = 0 } = ask as { own?: string; amountMinor?: number };
		if (!(key in book.contents.keys)) {
			if (!refund(known, own, amountMinor)) return json(res, { error: 'so much is not there' }, 409);
			book.contents.keys[key] = known.ref;
			book.write();
		}
		return json(res, shown(known));
	}
	json(res, { error: 'unknown call' }, 404);
}

/** With the card as shops may see it. */
function shown(payment: TillPayment) {
	const { cardRef } = payment;
	const card = cardRef === null ? undefined : book.contents.cards[cardRef];
	return {
		...payment,
		card: card
			? {
					...{ ref: cardRef, ending: TEST_CARDS[card.kind].ending, expires: card.expires },
					country: card.country ?? null
				}
			: null
	};
}

const CHANGES_AT_ONCE = 100;

/** What changed, oldest first, with the number to ask after next. */
function changes(after: number) {
	const found = book.changedAfter(after, CHANGES_AT_ONCE);
	return { payments: found.map(shown), next: found.at(-1)?.changedAs ?? after };
}

/** A payment as it is by now: a pay page ends by itself. */
function lookedUp(ref: string): TillPayment | undefined {
	const payment = book.contents.payments[ref];
	const hasEnded = payment?.expiresAt !== null && Date.now() >= (payment?.expiresAt ?? Infinity);
	if (payment?.state === 'pending' && hasEnded) move(payment, 'expired');
	return payment;
}

type Deed = 'dispute' | 'won' | 'lost' | 'refund';

/** What is done here, as somebody at the processor, or a buyer's bank, would. */
async function carryOut(req: IncomingMessage, res: ServerResponse, ref: string, deed: Deed): Promise<void> {
	const payment = book.contents.payments[ref];
	const form = await formOf(req);
	if (payment && deed === 'refund')
		refund(payment, null, Math.round(Number(form.get('amount')) * unitOf(payment)));
	if (payment && deed === 'dispute') dispute(payment);
	if (payment && (deed === 'won' || deed === 'lost')) decideDispute(payment, deed);
	redirect(res, '/');
}

/** Minor units in one of the currency. */
function unitOf({ currency }: TillPayment): number {
	return 10 ** (MINOR_DIGITS[currency] ?? 2);
}

function refund(payment: TillPayment, own: string | null, amountMinor: number): boolean {
	if (!Number.isSafeInteger(amountMinor) || amountMinor < 1 || amountMinor > book.left(payment)) return false;
	payment.refunds.push({ ref: book.newRef(), own, amountMinor, at: new Date().toISOString() });
	changed(payment);
	return true;
}

/** A buyer's bank takes back what is there. */
function dispute(payment: TillPayment): void {
	const amountMinor = book.left(payment);
	if (amountMinor === 0) return;
	const openedAt = new Date().toISOString();
	payment.disputes.push({ ref: book.newRef(), amountMinor, state: 'open', openedAt, closedAt: null });
	changed(payment);
}

function decideDispute(payment: TillPayment, state: 'won' | 'lost'): void {
	const open = payment.disputes.find((one) => one.state === 'open');
	if (!open) return;
	Object.assign(open, { state, closedAt: new Date().toISOString() });
	changed(payment);
}

function newPayment(ask: Partial<TillPayment>, state: TillPayment['state']): TillPayment {
	return {
		ref: book.newRef(),
		state,
		amountMinor: ask.amountMinor ?? 0,
		currency: ask.currency ?? '',
		text: ask.text ?? '',
		statementName: ask.statementName ?? '',
		returnUrl: ask.returnUrl ?? null,
		cardRef: ask.cardRef ?? null,
		expiresAt: ask.expiresAt ?? null,
		changedAs: 0,
		at: new Date().toISOString(),
		settledAt: state === 'pending' ? null : new Date().toISOString(),
		refunds: [],
		disputes: []
	};
}

function charge(key: string, ask: Partial<TillPayment>): TillPayment {
	const isNew = !(key in book.contents.keys);
	const made = book.once(key, () =>
		newPayment(ask, book.charges(ask.cardRef ?? '') ? 'captured' : 'declined')
	);
	if (isNew) notifier.tell(made.ref);
	return made;
}

function move(payment: TillPayment, state: TillPayment['state']): void {
	payment.state = state;
	payment.settledAt = new Date().toISOString();
	changed(payment);
}

function changed(payment: TillPayment): void {
	book.touch(payment);
	notifier.tell(payment.ref);
}

function payPage(ref: string): string {
	const payment = lookedUp(ref);
	if (!payment?.returnUrl) return page('Till', '<h1>There is no such payment</h1>');
	if (payment.state !== 'pending') {
		return page(
			'Till',
			`<h1>This payment is ${payment.state}</h1><p><a href="${escape(payment.returnUrl)}">Back to the shop</a></p>`
		);
	}
	const amount = formatMoney({ minor: payment.amountMinor, currency: payment.currency });
	const deed = payment.isCardOnly ? 'Keep this card' : `Pay ${amount}`;
	const foot = `<p class="quiet">On the card statement: ${escape(payment.statementName)}</p>
<p><a href="${escape(payment.returnUrl)}">Back without ${payment.isCardOnly ? 'a card' : 'paying'}</a></p>`;
	if (payment.awaits)
		return page(
			'Your bank',
			`<p class="quiet">The Till · test mode, no money moves</p><h1>Your bank asks: is it you?</h1>
<form method="post"><p><button name="step" value="yes">Yes, ${escape(deed.toLowerCase())}</button> <button name="step" value="no">No</button></p></form>${foot}`
		);
	const later =
		'<input name="later" type="number" min="1" max="60" value="1" size="3" aria-label="Renewals that work">';
	const cards = Object.entries(TEST_CARDS).map(
		([kind, { text, ending }], i) =>
			`<label><input type="radio" name="card" value="${kind}" ${i === 0 ? 'checked' : ''}> Test card …${ending}: ${escape(text)}${kind === 'fails-later' ? ` ${later}` : ''}</label>`
	);
	return page(
		deed,
		`<p class="quiet">The Till · test mode, no money moves</p><h1>${escape(deed)}</h1><p>${escape(payment.text)}</p>
<form method="post">${cards.join('')}<p><label>Its bank is in <input name="country" size="2" maxlength="2" pattern="[A-Za-z]{2}" autocapitalize="characters" placeholder="DE"> (two letters; empty: not said)</label></p><p><button>${escape(deed)}</button></p></form>${foot}`
	);
}

async function pay(req: IncomingMessage, res: ServerResponse, ref: string): Promise<void> {
	const payment = lookedUp(ref);
	if (!payment?.returnUrl) return html(res, payPage(ref), 404);
	const form = await formOf(req);
	const kind = form.get('card') ?? '';
	if (payment.state !== 'pending') return redirect(res, payment.returnUrl);
	const { awaits } = payment;
	if (awaits) {
		payment.awaits = null;
		if (form.get('step') === 'yes') accept(payment, awaits);
		else move(payment, 'declined');
	} else if (Object.hasOwn(TEST_CARDS, kind)) {
		const country = (form.get('country') ?? '').toUpperCase();
		const card = {
			...testCard(kind as TestCardKind, Number(form.get('later')) || 1, Date.now()),
			...(/^[A-Z]{2}$/.test(country) ? { country } : {})
		};
		if (kind === 'declined') move(payment, 'declined');
		else if (kind === 'second-step') {
			payment.awaits = card;
			book.write();
			return redirect(res, `/pay/${ref}`);
		} else accept(payment, card);
	}
	redirect(res, payment.returnUrl);
}

function accept(payment: TillPayment, card: TestCard): void {
	payment.cardRef = book.vault(card);
	move(payment, 'captured');
}

async function setDelivery(req: IncomingMessage, res: ServerResponse): Promise<void> {
	const form = await formOf(req);
	const wish = form.get('delivery') as Delivery | null;
	if (wish && DELIVERIES.includes(wish)) book.contents.delivery = wish;
	if (form.has('let-go')) await notifier.letGo();
	book.contents.isAway = form.get('away') === 'yes';
	book.write();
	redirect(res, '/');
}

function overview(): string {
	const { payments, events, delivery, isAway } = book.contents;
	const rows = Object.values(payments)
		.slice(-100)
		.reverse()
		.map((p) => {
			const told = events.filter((e) => e.paymentRef === p.ref);
			return `<tr><td>${escape(p.text)}</td><td>${escape(formatMoney({ minor: p.amountMinor, currency: p.currency }))}</td>
<td>${wordsOf(p)}${deeds(p)}</td><td>${told.length} told, ${told.filter((e) => !e.isAnswered).length} not answered</td><td>${escape(p.at)}</td></tr>`;
		});
	const choices = DELIVERIES.map(
		(d) =>
			`<label><input type="radio" name="delivery" value="${d}" ${d === delivery ? 'checked' : ''}> ${d.replaceAll('-', ' ')}</label>`
	);
	return page(
		'The Till',
		`<h1>The Till</h1><p class="quiet">A payment processor in small, with test cards only. <a href="/notifications">Notifications, one by one</a></p>
<form method="post" action="/deliveries"><p>Notifications go out:</p>${choices.join('')}
<label><input type="checkbox" name="away" value="yes" ${isAway ? 'checked' : ''}> away: answers no call of the shop</label>
<p><button>Set</button> <button name="let-go" value="1">Let go what was kept back, the last first</button></p></form>
<table><tr><th>For</th><th>Amount</th><th>State</th><th>Notifications</th><th>When</th></tr>${rows.join('')}</table>`
	);
}

const EVENTS_SHOWN = 100;

function notificationsPage(answer = ''): string {
	const rows = book.lastEvents(EVENTS_SHOWN).map((event) => {
		const payment = book.contents.payments[event.paymentRef];
		const state = event.isDropped ? 'dropped' : event.isAnswered ? 'answered' : 'not answered';
		const deed = (name: string, label: string) =>
			`<button name="${name}" value="${event.id}">${label}</button>`;
		return `<tr><td>${escape(event.at)}</td><td>${escape(payment?.text ?? '')}</td><td>${event.tries} sent, ${state}</td>
<td><form method="post">${deed('again', 'Send again')} ${deed('later', `In ${LATE_MS / 1000} s`)} ${deed('drop', 'Drop')}</form></td></tr>`;
	});
	const forgeries = FORGERIES.map(
		(how) => `<button name="forge" value="${how}">${how.replaceAll('-', ' ')}</button>`
	);
	return page(
		'Notifications',
		`<h1>Notifications</h1><p><a href="/">The Till</a></p>
<form method="post"><p>Forge one, with ${forgeries.join(' ')}</p></form>${answer ? `<p role="status">The shop answers: ${escape(answer)}</p>` : ''}
<table><tr><th>When</th><th>For</th><th>State</th><th></th></tr>${rows.join('')}</table>`
	);
}

async function handleNotification(req: IncomingMessage, res: ServerResponse): Promise<void> {
	const form = await formOf(req);
	const forgery = form.get('forge') as Forgery | null;
	if (forgery && FORGERIES.includes(forgery))
		return html(res, notificationsPage(await notifier.forge(forgery)));
	const [again, later, drop] = ['again', 'later', 'drop'].map((name) => form.get(name));
	if (again) await notifier.again(again);
	if (later) await notifier.again(later, LATE_MS);
	if (drop) notifier.drop(drop);
	redirect(res, '/notifications');
}

function wordsOf({ state, currency, refunds, disputes }: TillPayment): string {
	const back = refunds.map(({ amountMinor }) => `refunded ${formatMoney({ minor: amountMinor, currency })}`);
	return [state, ...back, ...disputes.map((one) => `dispute ${one.state}`)].map(escape).join('<br>');
}

function deeds(payment: TillPayment): string {
	const form = (deed: Deed, label: string, field = '') =>
		` <form method="post" action="/payments/${payment.ref}/${deed}">${field}<button>${label}</button></form>`;
	if (payment.disputes.some(({ state }) => state === 'open'))
		return form('won', 'The shop wins') + form('lost', 'The buyer wins');
	const left = book.left(payment) / unitOf(payment);
	if (left === 0) return '';
	const amount = `<input name="amount" type="number" step="any" max="${left}" value="${left}" aria-label="Amount" size="8"> `;
	return form('dispute', 'Dispute') + form('refund', 'Refund', amount);
}

function stop(): void {
	notifier.stop();
	book.write();
	server.close(() => process.exit(0));
	server.closeAllConnections();
}
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
server.listen(port, '127.0.0.1', () => console.log(`The Till listens on ${origin}`));
