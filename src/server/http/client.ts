/** Where a request comes from. The header of a web server in front counts only if the request came through one. */
import type { IncomingMessage } from 'node:http';
import { isWithin, readAddress, readNetwork, type Network } from '$core/media/network';
import type { Settings } from '../settings';

/** Set in front for the kit, which reads it from there; what somebody sends under this name is taken out. */
export const CLIENT_HEADER = 'x-stile-client';

export function clientReader({
	clientHeader,
	trustedProxies
}: Pick<Settings, 'clientHeader' | 'trustedProxies'>): (req: IncomingMessage) => string {
	const trusted: Network[] = trustedProxies.flatMap((text) => readNetwork(text) ?? []);
	return (req) => {
		const peer = req.socket.remoteAddress ?? '';
		if (clientHeader === null || !isWithin(trusted, peer)) return plain(peer);
		const given = req.headers[clientHeader];
		const hops = (Array.isArray(given) ? given.join() : (given ?? '')).split(',').map((hop) => hop.trim());
		// From the right: each proxy adds whom it heard it from, and only ours are believed.
		const first = hops.filter((hop) => hop !== '').findLast((hop) => !isWithin(trusted, hop));
		return plain(first ?? peer);
	};
}

/** An IPv4 address that came by IPv6 is the IPv4 one. */
function plain(address: string): string {
	return readAddress(address)?.toString() ?? address;
}
