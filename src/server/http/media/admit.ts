/**
 * What a proof still opens at this moment. The proof is not enough: the placement must exist and the member must still be
 * let in, by the policy and the grants in memory, from where the request comes.
 */
import type { IncomingMessage } from 'node:http';
import type { Decision, Denied } from '$core/access/decision';
import { networkOf } from '$core/media/network';
import { memberOf, type Proof } from '$core/media/proof';
import { looksAhead } from '$core/media/uses';
import type { App } from '../../app';
import { isUnderWay, useBeforeSending } from '../../usecases/library/uses';
import { CODE_COOKIE, cookieValue, sessionCookie } from '../cookies';
import { keptOut } from '../../rights/place';
import { hashOf } from '../../people/sessions';
import type { Refusal } from './answers';

export type Admitted =
	/** `counted`: a use of this grant must go on before anything is sent; `null` where nothing is counted. */
	{ ok: true; seconds: number | null; counted: Counted | null } | { ok: false; status: Refusal };

export interface Counted {
	memberId: string;
	itemId: string;
	grantId: string | null;
}

/** @param client the address that the request comes from */
export async function admit(app: App, req: IncomingMessage, proof: Proof, client: string): Promise<Admitted> {
	if (app.clock.wall() >= proof.end) return { ok: false, status: 403 };
	if (proof.network !== null && networkOf(client) !== proof.network) return { ok: false, status: 403 };
	const memberId = memberOf(proof.subject);
	const standing = memberId === null ? null : await app.rights.standing(memberId);
	if (memberId !== null && standing?.epoch !== proof.epoch) return { ok: false, status: 403 };
	const viewer = standing?.viewer ?? (await app.rights.stranger(deviceOf(req)));
	const place = await keptOut(app, proof.itemId, client);
	const decision = await app.rights.decideFor(viewer, proof.itemId, place);
	// A use that a press began goes on, though it was the last: whether it was taken is asked for beside this.
	const isOwnUse = decision.verdict === 'used-up' && proof.purpose === 'file';
	const seconds = decision.verdict === 'open' || proof.purpose !== 'teaser' ? null : teaserSeconds(decision);
	if (decision.verdict !== 'open' && seconds === null && !isOwnUse) return { ok: false, status: 403 };
	if (proof.purpose !== 'file' && !(await isOwnDevice(app, req, proof))) return { ok: false, status: 401 };
	return { ok: true, seconds, counted: countedBy(decision, memberId, proof.itemId) };
}

export function countedBy(decision: Decision, memberId: string | null, itemId: string): Counted | null {
	if (memberId === null || decision.verdict !== 'open' || decision.allowedBy.by !== 'crossing') return null;
	return decision.allowedBy.isCounted ? { memberId, itemId, grantId: decision.allowedBy.grantId } : null;
}

/** Whether content that is counted may be sent: on a use that goes on, or is taken now. Looking ahead takes none. */
export async function mayDeliver(app: App, req: IncomingMessage, counted: Counted | null): Promise<boolean> {
	if (counted === null || req.method === 'HEAD') return true;
	if (!looksAhead(headerOf(req, 'sec-purpose'))) return (await useBeforeSending(app, counted)).ok;
	return isUnderWay(app, counted.memberId, counted.itemId, counted.grantId);
}

export function headerOf(req: IncomingMessage, name: string): string | undefined {
	const value = req.headers[name];
	return Array.isArray(value) ? value[0] : value;
}

/** How much of a stream those who are turned away may see. */
export function teaserSeconds({ answer, teaser }: Denied): number | null {
	return answer.kind === 'notice' && teaser.kind === 'seconds' ? teaser.count : null;
}

/** A stream is for the member's own devices: an address that was passed on opens nothing. */
async function isOwnDevice(app: App, req: IncomingMessage, proof: Proof): Promise<boolean> {
	return proof.subject.kind === 'stranger' || (await signedIn(app, req)) === proof.subject.id;
}

/** What whoever asks may open, by their session and from where they ask: for addresses that carry no proof. */
export async function decideAsked(
	app: App,
	req: IncomingMessage,
	itemId: string,
	client: string
): Promise<{ decision: Decision; counted: Counted | null }> {
	const memberId = await signedIn(app, req);
	const standing = memberId === null ? null : await app.rights.standing(memberId);
	const viewer = standing?.viewer ?? (await app.rights.stranger(deviceOf(req)));
	const decision = await app.rights.decideFor(viewer, itemId, await keptOut(app, itemId, client));
	return { decision, counted: countedBy(decision, memberId, itemId) };
}

/** The account that is signed in on the device. */
export async function signedIn(app: App, req: IncomingMessage): Promise<string | null> {
	const token = cookieValue(req.headers.cookie, sessionCookie(app));
	return token === null ? null : app.rights.sessionAccount(hashOf(token));
}

function deviceOf(req: IncomingMessage): string | null {
	const token = cookieValue(req.headers.cookie, CODE_COOKIE);
	return token === null ? null : hashOf(token);
}
