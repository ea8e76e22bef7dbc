/**
 * Tells the Desk that lists have changed: server-sent events (HTML Standard §9.2) that name what, and nothing of it. Whoever
 * hears them asks again, and is answered by what they may see.
 */
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { App } from '../app';

import { hashOf } from '../people/sessions';
import type { RightsChange } from '../rights/rights';
import { cookieValue, sessionCookie } from './cookies';

export const NEWS_PATH = '/desk/news';

const STILL_EVERY_MS = 20_000;
/** Changes that come together are told together. */
const GATHERED_MS = 300;
/** Each holds a connection; a browser has one for all its tabs. */
const MOST = 200;

const NEWS: Record<RightsChange, 'library' | 'members'> = {
	content: 'library',
	policy: 'library',
	standing: 'members',
	devices: 'members'
};

/** @param heard whose changes are told: of the site, or of the practice book */
export function deskNews(app: App, heard: App = app) {
	const open = new Set<ServerResponse>();

	async function isStaff(req: IncomingMessage): Promise<boolean> {
		const token = cookieValue(req.headers.cookie, sessionCookie(app));
		const accountId = token === null ? null : await app.rights.sessionAccount(hashOf(token));
		const standing = accountId === null ? null : await app.rights.standing(accountId);
		return (standing?.permissions.size ?? 0) > 0;
	}

	async function answer(req: IncomingMessage, res: ServerResponse): Promise<void> {
		const refused = req.method !== 'GET' ? 405 : !(await isStaff(req)) ? 403 : open.size >= MOST ? 503 : null;
		if (refused !== null) {
			res.writeHead(refused, { 'cache-control': 'no-store' }).end();
			return;
		}
		open.add(res);
		res.writeHead(200, {
			'content-type': 'text/event-stream',
			'cache-control': 'no-store',
			// A web server in front must not collect what is said.
			'x-accel-buffering': 'no'
		});
		res.write(': open\n\n');
		const told = new Set<string>();
		let gathering: NodeJS.Timeout | null = null;
		const tell = () => {
			gathering = null;
			for (const news of told) res.write(`event: ${news}\ndata: \n\n`);
			told.clear();
		};
		const deaf = heard.rights.hear((kinds) => {
			for (const kind of kinds) told.add(NEWS[kind]);
			gathering ??= setTimeout(tell, GATHERED_MS);
		});
		// Whoever is staff no more hears no more.
		const still = setInterval(
			() =>
				void isStaff(req).then(
					(isStill) => (isStill ? res.write(': still\n\n') : res.end()),
					() => res.end()
				),
			STILL_EVERY_MS
		);
		res.once('close', () => {
			deaf();
			clearInterval(still);
			if (gathering) clearTimeout(gathering);
			open.delete(res);
		});
	}

	return {
		answer,
		end: () => {
			for (const res of open) res.end();
		}
	};
}
