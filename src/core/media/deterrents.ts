/**
 * What makes passing things on harder, and none of which prevents it: on which sites a film may be embedded, from where the
 * site may be used, and what is laid over the picture.
 *
 * The site has its own; an item may differ in each. Example: the site allows `school.example`, one film `partner.example`
 * instead.
 */
import { isWithin, readNetwork, type Network } from './network';

export interface Overlay {
	/** What is shown: the viewer's name, their address, or a text. */
	shows: 'name' | 'email' | 'text';
	text: string;
	isMoving: boolean;
	/** Height of the letters, as a share of the picture's height in percent. */
	size: number;
	/** 5 to 100. */
	opacity: number;
	/** `#rrggbb` */
	colour: string;
}

export interface Deterrents {
	/** Hosts as they are typed: `school.example`, `*.school.example`, `localhost:8080`. */
	embedSites: string[];
	/** ISO 3166-1 alpha-2. */
	blockedCountries: string[];
	/** Addresses and ranges. */
	blockedNetworks: string[];
	overlay: Overlay | null;
	/** Links to files work only from the network that they were made for. */
	tiesLinks: boolean;
}

/** What an item has of its own; what is left out is the site's. */
export type OwnDeterrents = Partial<
	Pick<Deterrents, 'embedSites' | 'blockedCountries' | 'blockedNetworks' | 'overlay'>
>;

export const NO_DETERRENTS: Deterrents = {
	embedSites: [],
	blockedCountries: [],
	blockedNetworks: [],
	overlay: null,
	tiesLinks: false
};

export function deterrentsOf(site: Deterrents, own: OwnDeterrents | null): Deterrents {
	return own ? { ...site, ...own } : site;
}

const HOST_LABEL = /^(?!-)[a-z0-9-]{1,63}(?<!-)$/;

/**
 * A site as it was typed, in its one spelling: lower case, Unicode as punycode, with a port only where one was typed. `*.`
 * in front stands for every host below it, and not for itself. `null` where it is no host.
 */
export function readSite(typed: string): string | null {
	const withPath = typed
		.trim()
		.toLowerCase()
		.replace(/^https?:\/\//, '');
	// Another scheme is none of a page.
	if (withPath.includes('://')) return null;
	const text = withPath.replace(/\/.*$/, '');
	const isBelow = text.startsWith('*.');
	const bare = isBelow ? text.slice(2) : text;
	if (bare === '' || /[\s@?#%*]/.test(bare)) return null;
	let url: URL;
	try {
		url = new URL(`http://${bare}`);
	} catch {
		return null;
	}
	const labels = url.hostname.split('.');
	if (!labels.every((label) => HOST_LABEL.test(label))) return null;
	// Everything below a top-level name would be half the internet.
	if (isBelow && labels.length < 2) return null;
	return `${isBelow ? '*.' : ''}${url.hostname}${url.port ? `:${url.port}` : ''}`;
}

/** Whether an origin such as `https://www.school.example` is one of the sites. */
export function isSite(sites: readonly string[], origin: string): boolean {
	let url: URL;
	try {
		url = new URL(origin);
	} catch {
		return false;
	}
	return sites.some((site) => {
		const isBelow = site.startsWith('*.');
		const [host = '', port = ''] = (isBelow ? site.slice(2) : site).split(':');
		if (url.port !== port) return false;
		return isBelow ? url.hostname.endsWith(`.${host}`) : url.hostname === host;
	});
}

/** The sources of `frame-ancestors` (Content Security Policy Level 3 §6.4.2): this site, and those that are allowed. */
export function frameAncestors(sites: readonly string[]): string {
	return ["'self'", ...sites].join(' ');
}

/**
 * Whether a request for a playlist or a key may come from the page it names. One that names none is let through: many
 * browsers keep it to themselves, and whoever wants to leave it out can.
 */
export function mayEmbed(sites: readonly string[], ownOrigin: string, referer: string | undefined): boolean {
	if (referer === undefined || referer === '') return true;
	try {
		const { origin } = new URL(referer);
		return origin === ownOrigin || isSite(sites, origin);
	} catch {
		return false;
	}
}

export type Place = 'free' | 'country' | 'network';

/** Whether somebody may come from where they come. `country`: of their address, `null` where it is not known. */
export function placeOf(
	{ blockedCountries, blockedNetworks }: Pick<Deterrents, 'blockedCountries' | 'blockedNetworks'>,
	address: string | null,
	country: string | null
): Place {
	if (country !== null && blockedCountries.includes(country)) return 'country';
	if (address === null || blockedNetworks.length === 0) return 'free';
	return isWithin(networksOf(blockedNetworks), address) ? 'network' : 'free';
}

/** Places that are newly blocked, and that are not any more: from there access ends, or begins again. */
export interface PlacesMoved {
	keptOut: string[];
	letIn: string[];
}

type Blocked = Pick<Deterrents, 'blockedCountries' | 'blockedNetworks'>;

export function placesMoved(before: Blocked, after: Blocked): PlacesMoved {
	const of = ({ blockedCountries, blockedNetworks }: Blocked) => [...blockedCountries, ...blockedNetworks];
	const [was, is] = [of(before), of(after)];
	return {
		keptOut: is.filter((place) => !was.includes(place)).sort(),
		letIn: was.filter((place) => !is.includes(place)).sort()
	};
}

const known = new WeakMap<readonly string[], Network[]>();

function networksOf(texts: readonly string[]): Network[] {
	let read = known.get(texts);
	if (!read) known.set(texts, (read = texts.flatMap((text) => readNetwork(text) ?? [])));
	return read;
}

export function readOverlay(value: unknown): Overlay | null {
	if (typeof value !== 'object' || value === null) return null;
	const raw = value as Record<string, unknown>;
	const between = (number: unknown, least: number, most: number, otherwise: number) => {
		const n = Number(number);
		return Number.isFinite(n) ? Math.min(most, Math.max(least, n)) : otherwise;
	};
	return {
		shows: raw.shows === 'email' || raw.shows === 'text' ? raw.shows : 'name',
		text: typeof raw.text === 'string' ? raw.text.slice(0, 120) : '',
		isMoving: raw.isMoving === true,
		size: between(raw.size, 2, 20, 4),
		opacity: between(raw.opacity, 5, 100, 30),
		colour:
			typeof raw.colour === 'string' && /^#[0-9a-f]{6}$/i.test(raw.colour)
				? raw.colour.toLowerCase()
				: '#ffffff'
	};
}
