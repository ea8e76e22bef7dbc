import { describe, expect, it } from 'vitest';
import { completedPolicy, securityHeaders } from './security-headers';

const kits = "default-src 'self'; script-src 'self' 'nonce-abc'; form-action 'self'; base-uri 'none'";

describe('the policy of a page', () => {
	it('lets forms lead to the payment pages that are named, and keeps everything else of the kit’s', () => {
		expect(completedPolicy(kits, { payOrigins: ['https://pay.example'], frames: "'none'" })).toBe(
			"default-src 'self'; script-src 'self' 'nonce-abc'; form-action 'self' https://pay.example; base-uri 'none'; frame-ancestors 'none'"
		);
	});

	it('allows nothing where the kit gave none', () => {
		expect(completedPolicy(null, { payOrigins: [], frames: "'none'" })).toContain("default-src 'none'");
	});
});

describe('headers of every answer', () => {
	const names = (origin: string, mode: 'production' | 'demo') =>
		securityHeaders({ origin, mode }).map(([name]) => name);

	it('tell browsers to stay on https only where there is https', () => {
		expect(names('https://clock.example', 'production')).toContain('strict-transport-security');
		expect(names('http://clock.example', 'production')).not.toContain('strict-transport-security');
		expect(names('https://clock.example', 'demo')).not.toContain('strict-transport-security');
	});
});
