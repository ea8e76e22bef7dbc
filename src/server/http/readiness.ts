/** `/readyz`: worked out once a second at most, however many ask, and never waited for longer than that. */
import type { ServerResponse } from 'node:http';
import type { App } from '../app';
import { health, type Health } from '../reads/health';

const GOOD_FOR_MS = 1000;

export function readiness(app: App): (res: ServerResponse) => Promise<true> {
	let known: { at: number; state: Promise<Health> } | null = null;

	return async function ready(res) {
		const now = performance.now();
		if (!known || now - known.at >= GOOD_FOR_MS) known = { at: now, state: health(app) };
		const state = await known.state;
		res.writeHead(state.ready ? 200 : 503, {
			'content-type': 'application/json',
			'cache-control': 'no-store'
		});
		res.end(JSON.stringify(state));
		return true;
	};
}
