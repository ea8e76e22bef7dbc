import type { Cookies } from '@sveltejs/kit';
import { CURRENCIES } from '$core/billing/money';
import type { App, Using } from '../app';
import type { KnownDevice } from '../usecases/accounts/sign-in';
import { hashOf, newToken, type NewSession } from '../people/sessions';

const DEVICE_COOKIE = 'stile_order';
const DEVICE_DAYS = 1;

/** Of which book, and where. */
type Place = Using<'isPractice' | 'settings'>;

/**
 * The cookie's name. `__Host-` binds it to this very host, where there is TLS (RFC 6265bis §4.1.3.2). Whoever practises is signed
 * in at the Desk as before, and on the front as whoever they made up.
 */
export function sessionCookie({ isPractice, settings: { origin } }: Place): string {
	const name = origin.startsWith('https:') ? '__Host-stile' : 'stile';
	return isPractice ? `${name}_practised` : name;
}

export function setSession(cookies: Cookies, place: Place, { token, maxAgeSeconds }: NewSession): void {
	cookies.set(sessionCookie(place), token, { ...attributes(place.settings.origin), maxAge: maxAgeSeconds });
}

export function clearSession(cookies: Cookies, place: Place): void {
	cookies.delete(sessionCookie(place), attributes(place.settings.origin));
}

const PRACTICE_COOKIE = 'stile_practice';

/** Whether whoever asks said that they practise; it counts of staff alone, who are asked for each time. */
export function saysPractice(header: string | undefined): boolean {
	return cookieValue(header, PRACTICE_COOKIE) !== null;
}

export function markPractice(cookies: Cookies, origin: string): void {
	cookies.set(PRACTICE_COOKIE, '1', attributes(origin));
}

export function endPractice(cookies: Cookies, origin: string): void {
	cookies.delete(PRACTICE_COOKIE, attributes(origin));
}

/** On devices that wait for a code: good for giving it, and for nothing else. */
function halfCookie(place: Place): string {
	return `${sessionCookie(place)}_half`;
}

export function setHalf(cookies: Cookies, place: Place, { token, maxAgeSeconds }: NewSession): void {
	cookies.set(halfCookie(place), token, { ...attributes(place.settings.origin), maxAge: maxAgeSeconds });
}

export function halfToken(cookies: Cookies, place: Place): string | null {
	return cookies.get(halfCookie(place)) ?? null;
}

export function clearHalf(cookies: Cookies, place: Place): void {
	cookies.delete(halfCookie(place), attributes(place.settings.origin));
}

/** Ties an order to the device that began it. */
export function deviceToken(cookies: Cookies, origin: string): string {
	const known = cookies.get(DEVICE_COOKIE);
	if (known) return known;
	const token = newToken();
	cookies.set(DEVICE_COOKIE, token, { ...attributes(origin), maxAge: DEVICE_DAYS * 86_400 });
	return token;
}

export function knownDevice(cookies: Cookies): string | null {
	return cookies.get(DEVICE_COOKIE) ?? null;
}

/** Of the device that began an order; of one that began none, a hash that nothing has. */
export function orderDevice(cookies: Cookies): string {
	return hashOf(knownDevice(cookies) ?? '');
}

const CURRENCY_COOKIE = 'stile_currency';
const CURRENCY_DAYS = 400;

/** In which currency this device wants prices, by its address (`?currency=USD`), which is kept, or as it was said before. */
export function currencyOf(cookies: Cookies, url: URL, origin: string): string | undefined {
	const isCurrency = (code: string | null | undefined) =>
		typeof code === 'string' && CURRENCIES.includes(code);
	const asked = url.searchParams.get('currency');
	if (asked !== null && isCurrency(asked)) {
		cookies.set(CURRENCY_COOKIE, asked, { ...attributes(origin), maxAge: CURRENCY_DAYS * 86_400 });
		return asked;
	}
	const kept = cookies.get(CURRENCY_COOKIE);
	return isCurrency(kept) ? kept : undefined;
}

/** On devices where codes were redeemed while nobody was signed in. */
export const CODE_COOKIE = 'stile_code';
const CODE_DAYS = 400;

/** Hash of the device on which codes were redeemed while nobody was signed in; `null` where none were. */
export function codeDevice(cookies: Cookies): string | null {
	const token = cookies.get(CODE_COOKIE);
	return token ? hashOf(token) : null;
}

/** The same, and from now on there is one. */
export function markCodeDevice(cookies: Cookies, origin: string): string {
	const token = cookies.get(CODE_COOKIE) ?? newToken();
	cookies.set(CODE_COOKIE, token, { ...attributes(origin), maxAge: CODE_DAYS * 86_400 });
	return hashOf(token);
}

/** On devices that have signed in with a password before: whoever guesses elsewhere cannot lock them out. */
const KNOWN_COOKIE = 'stile_known';
const KNOWN_DAYS = 400;
const KNOWN_PURPOSE = 'known-device';

export function rememberDevice(
	cookies: Cookies,
	{ isPractice, keys, settings }: App,
	accountId: string
): void {
	if (isPractice) return;
	const text = JSON.stringify({ id: newToken().slice(0, 22), accountId } satisfies KnownDevice);
	const value = keys.signText(KNOWN_PURPOSE, text);
	cookies.set(KNOWN_COOKIE, value, { ...attributes(settings.origin), maxAge: KNOWN_DAYS * 86_400 });
}

export function rememberedDevice(cookies: Cookies, { keys }: App): KnownDevice | null {
	const text = keys.readText(KNOWN_PURPOSE, cookies.get(KNOWN_COOKIE) ?? '');
	return text === null ? null : (JSON.parse(text) as KnownDevice);
}

function attributes(origin: string) {
	return { path: '/', httpOnly: true, sameSite: 'lax', secure: origin.startsWith('https:') } as const;
}

/** As long as the database keeps it. */
const MAX_NEXT_LENGTH = 700;

/** A path of this site to go on to; anything else is `fallback`. */
export function ownPath(text: string | null, fallback: string): string {
	if (text === null || text.length > MAX_NEXT_LENGTH) return fallback;
	return /^\/(?![/\\])[^\\\s]*$/.test(text) ? text : fallback;
}

/** The value of one cookie of a request's header. */
export function cookieValue(header: string | undefined, name: string): string | null {
	for (const pair of header?.split(';') ?? []) {
		const at = pair.indexOf('=');
		if (at > 0 && pair.slice(0, at).trim() === name) return pair.slice(at + 1).trim();
	}
	return null;
}
