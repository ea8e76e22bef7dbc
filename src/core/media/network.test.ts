import { describe, expect, it, test } from 'vitest';
import { countedAs, isPublic, isWithin, networkOf, readNetwork } from './network';

describe('networks', () => {
	// RFC 4632 §3.1 and RFC 5737's documentation addresses; RFC 4291 §2.3; RFC 4291 §2.5.5.2 for the mapped form.
	test.each([
		['172.16.0.0/12', '172.16.0.0', true],
		['172.16.0.0/12', '172.31.255.255', true],
		['172.16.0.0/12', '172.32.0.0', false],
		['192.0.2.0/24', '::ffff:192.0.2.7', true],
		['192.0.2.7', '192.0.2.7', true],
		['192.0.2.7', '192.0.2.8', false],
		['0.0.0.0/0', '203.0.113.9', true],
		['0.0.0.0/0', '2001:db8::1', false],
		['2001:db8::/32', '2001:0DB8:0:CD30::1', true],
		['2001:db8::/32', '2001:db9::1', false],
		['192.0.2.129/25', '192.0.2.200', true]
	])('%s contains %s: %s', (rule, address, expected) => {
		const network = readNetwork(rule);
		expect(network).not.toBeNull();
		expect(isWithin([network!], address)).toBe(expected);
	});

	test.each([
		'',
		'example.org',
		'192.0.2',
		'192.0.2.1/33',
		'192.0.2.1/-1',
		'192.0.2.1/8/8',
		'0x7f.0.0.1',
		'::/129',
		'1.2.3.4/',
		'::FFFF:192.0.2.0/120',
		'0:0:0:0:0:ffff:192.0.2.0/120'
	])('%j is none', (text) => {
		expect(readNetwork(text)).toBeNull();
	});

	it('that an address cannot be read for contain nothing', () => {
		expect(isWithin([readNetwork('0.0.0.0/0')!], 'unknown')).toBe(false);
	});
});

test.each([
	['192.0.2.77', '192.0.2.0/24'],
	['::ffff:192.0.2.77', '192.0.2.0/24'],
	['2001:db8:1:2::9', '2001:db8:1::/48'],
	['nobody', null]
])('a link opened from %s is tied to %s', (address, network) => {
	expect(networkOf(address)).toBe(network);
});

// RFC 6890's special-purpose addresses.
test.each([
	['198.41.0.4', true],
	['2606:4700::1', true],
	['127.0.0.1', false],
	['10.0.0.8', false],
	['169.254.169.254', false],
	['100.64.0.1', false],
	['::1', false],
	['::ffff:10.0.0.8', false],
	['fe80::1', false],
	['fc00::1', false],
	['0.0.0.0', false]
])('%s is public: %s', (address, expected) => {
	expect(isPublic(address)).toBe(expected);
});

// RFC 3849 and RFC 5737 addresses.
test.each([
	['2001:db8:1:2:3:4:5:6', '2001:db8:1:2::/64'],
	['2001:DB8:1:2:ffff::1', '2001:db8:1:2::/64'],
	['2001:db8:1:3::1', '2001:db8:1:3::/64'],
	['192.0.2.7', '192.0.2.7'],
	['::ffff:192.0.2.7', '192.0.2.7']
])('%s is counted as %s', (text, expected) => {
	expect(countedAs(text)).toBe(expected);
});
