/** The site map: what a stranger may know of, whoever asks: search engines are strangers. */
import { decideAddress } from '$core/access/decide/decide';
import type { Policy } from '$core/access/policy';
import type { Using } from '../../app';
import { lookOf, type Look, type Looking } from '../../rights/look';
import { listedLabels } from './label-list';
import { isKnownTo, listFor } from './lists';

const MINUTE_MS = 60_000;

/** The last one of a policy, and the minute that it is of. */
const known = new WeakMap<Policy, { minute: number; paths: Promise<string[]> }>();

/** Its paths, worked out once a minute at most. */
export async function siteMap(app: Looking & Using<'clock'>): Promise<string[]> {
	const look = await lookOf(app, null, null, null);
	const minute = Math.floor(look.now / MINUTE_MS);
	let kept = known.get(look.policy);
	if (kept?.minute !== minute) {
		kept = { minute, paths: pathsFor(app, look) };
		known.set(look.policy, kept);
		kept.paths.catch(() => known.delete(look.policy));
	}
	return kept.paths;
}

async function pathsFor(app: Looking, look: Look): Promise<string[]> {
	const items = await listFor(app, look, (item) => item.address !== null);
	const front = decideAddress(look.policy, look.viewer, '/', look.now);
	return [
		...(isKnownTo(front) ? ['/'] : []),
		...(await listedLabels(app, look, items)).map(({ path }) => path),
		'/plans',
		...items.map(({ address }) => address ?? '/')
	];
}
