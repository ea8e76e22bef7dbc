import { Resolver } from 'node:dns/promises';
import type { Names } from '../ports/names';

const PATIENCE_MS = 3000;
const TRIES = 2;
/** What is longer says nothing that is understood here. */
const MOST_CHARACTERS = 4000;
const MOST_TEXTS = 50;
/** Answers that say: there is nothing. Every other failure is none. */
const NOTHING: ReadonlySet<unknown> = new Set(['ENODATA', 'ENOTFOUND']);

/** @param servers addresses, with a port where it is another than 53; none: those of the machine */
export function dnsNames(servers: readonly string[]): Names {
	const resolver = new Resolver({ timeout: PATIENCE_MS, tries: TRIES });
	if (servers.length > 0) resolver.setServers(servers);
	return {
		async texts(name) {
			try {
				const found = await resolver.resolveTxt(name);
				return found.slice(0, MOST_TEXTS).map((strings) => strings.join('').slice(0, MOST_CHARACTERS));
			} catch (error) {
				return NOTHING.has((error as NodeJS.ErrnoException).code) ? [] : null;
			}
		}
	};
}
