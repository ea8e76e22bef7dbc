import { json } from '@sveltejs/kit';
import { apiProblem } from '$server/http/api-problem';
import { readOutside } from '$core/billing/outside';
import { secretOfOutside } from '$server/usecases/running/outside-checkouts';
import { receiveOutside } from '$server/usecases/sales/receive-outside';
import type { RequestHandler } from './$types';

const FIELDS: Record<string, string> = {
	id: '`id` is your own name for this event, of at most 100 characters: sent again, it changes nothing.',
	purchase: '`purchase` is your own name for what was bought, of at most 100 characters.',
	at: '`at` is when it happened, such as 2026-05-31T10:00:00Z.',
	email: '`email` is the address of whoever bought.',
	name: '`name` is what they are called, of at most 120 characters; it may be left out.',
	does: '`does` is "grant" or "withdraw".',
	plan: '`plan` is the id of a plan, or the last part of its page’s address.',
	until: '`until` is when access ends, such as 2027-05-31T10:00:00Z; it may be left out.'
};

const UNBELIEVED = {
	unsigned: 'The call carries no signature over its method, path and digest (RFC 9421).',
	forged: 'The signature does not fit the call, or nobody of this name is listened to.',
	stale: 'The call was signed more than five minutes ago. Send it again with a new signature.'
};

const REFUSED = {
	'unknown-plan': [422, 'There is no such plan.'],
	'too-early': [400, 'This has not happened yet: look at the clock that says `at`.'],
	'other-message': [
		409,
		'An event of this `id` said something else before. Give each event a name of its own.'
	],
	ended: [401, UNBELIEVED.forged]
} as const;

/** A checkout elsewhere tells that a purchase grants a plan, or takes it away. */
export const POST: RequestHandler = async ({ locals: { app }, request, url }) => {
	const body = new Uint8Array(await request.arrayBuffer());
	const header = (name: string) => request.headers.get(name);
	const signer = app.signatures.signerOf({ header });
	const secret = signer === null ? null : await secretOfOutside(app, signer);
	const call = { method: request.method, path: url.pathname, header, body };
	// Whoever is not known is answered like whoever signs wrongly.
	const seconds = Math.floor(app.clock.wall() / 1000);
	const verified = app.signatures.verify(call, secret ?? 'nobody', seconds);
	if (!verified.ok) return apiProblem(401, verified.code, UNBELIEVED[verified.code]);
	if (signer === null || secret === null) return apiProblem(401, 'forged', UNBELIEVED.forged);
	const read = readOutside(jsonOf(body));
	if (!read.ok)
		return apiProblem(400, `bad-${read.field}`, FIELDS[read.field] ?? 'The message cannot be read.');
	const heard = await receiveOutside(app, signer, read.message);
	if (heard.ok) return json({ outcome: heard.outcome });
	const [status, message] = REFUSED[heard.code];
	return apiProblem(status, heard.code, message);
};

function jsonOf(body: Uint8Array): unknown {
	try {
		return JSON.parse(new TextDecoder().decode(body));
	} catch {
		return null;
	}
}
