import type { Reroute } from '@sveltejs/kit';

/** The other side shows the pages of the front under an address of its own; src/hooks.server.ts decides them. */
export const reroute: Reroute = ({ url }) => {
	const rest = /^\/other-side\/[\w.-]+(\/.*|$)/.exec(url.pathname)?.[1];
	return rest === undefined ? undefined : rest || '/';
};
