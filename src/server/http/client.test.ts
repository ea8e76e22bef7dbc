import type { IncomingMessage } from 'node:http';
import { expect, test } from 'vitest';
import { clientReader } from './client';

const request = (peer: string, headers: Record<string, string> = {}) =>
	({ socket: { remoteAddress: peer }, headers }) as unknown as IncomingMessage;

// RFC 5737 and RFC 3849 addresses.
test.each([
	['no proxy is set: the header is nobody’s', null, '203.0.113.9', '192.0.2.1', '203.0.113.9'],
	['through a trusted proxy', 'x-forwarded-for', '127.0.0.1', '192.0.2.1', '192.0.2.1'],
	['not through one', 'x-forwarded-for', '203.0.113.9', '192.0.2.1', '203.0.113.9'],
	[
		'what was there before the proxy is not believed',
		'x-forwarded-for',
		'127.0.0.1',
		'10.9.9.9, 192.0.2.1',
		'192.0.2.1'
	],
	['two trusted proxies', 'x-forwarded-for', '127.0.0.1', '192.0.2.1, 127.0.0.2', '192.0.2.1'],
	['what is no address', 'x-forwarded-for', '127.0.0.1', 'unknown', null],
	['what is no address beside one', 'x-forwarded-for', '127.0.0.1', '192.0.2.1, _hidden', null],
	['an empty header', 'x-forwarded-for', '127.0.0.1', '', '127.0.0.1'],
	['IPv4 that came by IPv6', null, '::ffff:192.0.2.7', '', '192.0.2.7']
])('%s', (_, clientHeader, peer, header, expected) => {
	const clientOf = clientReader({ clientHeader, trustedProxies: ['127.0.0.0/8'] });
	expect(clientOf(request(peer, { 'x-forwarded-for': header }))).toBe(expected);
	// Remembered, and the same.
	expect(clientOf(request(peer, { 'x-forwarded-for': header }))).toBe(expected);
});
