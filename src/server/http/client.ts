/**
 * Where a request comes from. The header of a web server in front counts only if the request came through one; `null`
 * where such a server names what is no address: then nobody can be told from anybody.
 */
import type { IncomingMessage } from 'node:http';
import { LRUCache } from 'lru-cache';
import { isWithin, readAddress, readNetwork, type Network } from '$core/media/network';
import type { Settings } from '../settings';

/** Set in front for the kit, which reads it from there; what somebody sends under this name is taken out. */
export const CLIENT_HEADER = 'x-stile-client';

const KEPT = 5000;

export function clientReader({
	clientHeader,
	trustedProxies
}: Pick<Settings, 'clientHeader' | 'trustedProxies'>): (req: IncomingMessage) => string | null {
	const trusted: Network[] = trustedProxies.flatMap((text) => readNetwork(text) ?? []);
	const known = new LRUCache<string, { client: string | null }>({ max: KEPT });
	return (req) => {
		const peer = req.socket.remoteAddress ?? '';
		const given = clientHeader === null ? undefined : req.headers[clientHeader];
		const hops = Array.isArray(given) ? given.join() : (given ?? '');
		const key = `${peer} ${hops}`;
		let found = known.get(key);
		if (!found) {
			const isOurs = clientHeader !== null && isWithin(trusted, peer);
			found = { client: isOurs ? firstOf(hops, peer, trusted) : plain(peer) };
			known.set(key, found);
		}
		return found.client;
	};
}

/** From the right: each proxy adds whom it heard it from, and only ours are believed. */
function firstOf(hops: string, peer: string, trusted: readonly Network[]): string | null {
	const named = hops.split(',').map((hop) => hop.trim());
	const client = named.filter((hop) => hop !== '').findLast((hop) => !isWithin(trusted, hop));
	if (client === undefined) return plain(peer);
	return readAddress(client)?.toString() ?? null;
}

/** An IPv4 address that came by IPv6 is the IPv4 one. */
function plain(address: string): string {
	return readAddress(address)?.toString() ?? address;
}
