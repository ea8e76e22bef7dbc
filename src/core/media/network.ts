/**
 * Networks and addresses of the internet (RFC 4632, RFC 4291).
 *
 * A rule is an address or a range in prefix form. An IPv4 address written as IPv6 (`::ffff:192.0.2.1`) is the IPv4 one.
 * Example: `192.0.2.0/24` contains 192.0.2.7.
 */
import ipaddr from 'ipaddr.js';

export interface Network {
	address: ipaddr.IPv4 | ipaddr.IPv6;
	bits: number;
}

/** How much of an address a link is tied to: a household's network, not one device. */
const TIED_BITS = { ipv4: 24, ipv6: 48 } as const;

/** `null` where it is no address or range. */
export function readNetwork(text: string): Network | null {
	const [written = '', bits, ...rest] = text.trim().split('/');
	if (rest.length > 0) return null;
	const address = readAddress(written);
	if (!address) return null;
	const most = address.kind() === 'ipv4' ? 32 : 128;
	if (bits === undefined) return { address, bits: most };
	// An IPv4 range that is written as IPv6 keeps no sensible length.
	if (!/^\d{1,3}$/.test(bits) || Number(bits) > most || isMapped(written)) return null;
	return { address, bits: Number(bits) };
}

/** An IPv4 address, written as IPv6 in any of its spellings. */
function isMapped(text: string): boolean {
	return ipaddr.IPv6.isValid(text) && ipaddr.IPv6.parse(text).isIPv4MappedAddress();
}

export function readAddress(text: string): ipaddr.IPv4 | ipaddr.IPv6 | null {
	// Only the four-part form: `192.1` and `0x7f000001` are read otherwise by different programs.
	if (!text.includes(':') && !ipaddr.IPv4.isValidFourPartDecimal(text)) return null;
	return ipaddr.isValid(text) ? ipaddr.process(text) : null;
}

export function contains({ address, bits }: Network, other: ipaddr.IPv4 | ipaddr.IPv6): boolean {
	if (address.kind() !== other.kind()) return false;
	return address.kind() === 'ipv4'
		? (other as ipaddr.IPv4).match(address as ipaddr.IPv4, bits)
		: (other as ipaddr.IPv6).match(address as ipaddr.IPv6, bits);
}

/** Whether any of the networks contains the address; an address that cannot be read is in none. */
export function isWithin(networks: readonly Network[], text: string): boolean {
	const address = readAddress(text);
	return address !== null && networks.some((network) => contains(network, address));
}

/** The network that a link is tied to: `192.0.2.0/24`, `2001:db8:1::/48`. `null` for what is no address. */
export function networkOf(text: string): string | null {
	const address = readAddress(text);
	if (!address) return null;
	const bits = TIED_BITS[address.kind()];
	const bytes = address.toByteArray().map((byte, n) => {
		const kept = Math.min(8, Math.max(0, bits - n * 8));
		return byte & (0xff << (8 - kept)) & 0xff;
	});
	return `${ipaddr.fromByteArray(bytes).toString()}/${bits}`;
}

const COUNTED_BITS_IPV6 = 64;

/** As whom a client is counted: by IPv6 its /64, of which one household has all addresses. */
export function countedAs(text: string): string {
	const address = readAddress(text);
	if (!address || address.kind() === 'ipv4') return address?.toString() ?? text;
	const bytes = address.toByteArray().map((byte, n) => (n * 8 < COUNTED_BITS_IPV6 ? byte : 0));
	return `${ipaddr.fromByteArray(bytes).toString()}/${COUNTED_BITS_IPV6}`;
}

/** Loopback, private, link-local, carrier and other addresses that are nobody's on the internet. */
export function isPublic(text: string): boolean {
	return readAddress(text)?.range() === 'unicast';
}
