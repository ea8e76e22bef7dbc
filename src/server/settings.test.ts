import { describe, expect, it, test } from 'vitest';
import { readSettings, SettingsError } from './settings';

const good = {
	STILE_ORIGIN: 'https://clock.example/',
	STILE_DATABASE_URL: 'mysql://u:p@127.0.0.1:3306/stile',
	STILE_STORAGE: '/srv/stile',
	STILE_MASTER_KEY: Buffer.from(Array.from({ length: 32 }, (_, n) => n * 7)).toString('base64'),
	STILE_PAYMENTS_URL: 'https://till.example',
	STILE_PAYMENTS_SECRET: 'a secret of two dozen letters',
	STILE_SMTP_URL: 'smtp://127.0.0.1:25'
};

describe('settings', () => {
	it('takes a complete environment as production', () => {
		expect(readSettings(good)).toMatchObject({
			mode: 'production',
			origin: 'https://clock.example',
			hasMovableClock: false
		});
	});

	test.each(Object.keys(good))('refuses to start without %s and names it', (name) => {
		expect(() => readSettings({ ...good, [name]: '' })).toThrow(new RegExp(`Set ${name}`));
	});

	test.each([
		['a short key', { STILE_MASTER_KEY: 'c2hvcnQ=' }, /holds 5 bytes/],
		['a key that is not random', { STILE_MASTER_KEY: Buffer.alloc(32, 7).toString('base64') }, /not random/],
		['a secret that can be guessed', { STILE_PAYMENTS_SECRET: 'secret' }, /has 6 characters/],
		[
			'the demo key',
			{ STILE_MASTER_KEY: Buffer.from('stile-demo-key-stile-demo-key-32').toString('base64') },
			/demo key/
		],
		['the demo secret', { STILE_PAYMENTS_SECRET: 'stile-demo-till' }, /demo secret/],
		['a movable clock', { STILE_CLOCK: 'movable' }, /demo only/],
		['an origin with a path', { STILE_ORIGIN: 'https://clock.example/shop' }, /scheme and a host/],
		[
			'a name server that is a name',
			{ STILE_NAME_SERVERS: '192.0.2.53, ns.clock.example' },
			/holds ns.clock.example/
		],
		['a limit that is no number', { STILE_UPLOAD_LIMIT_BYTES: 'lots' }, /whole number/]
	])('refuses %s in production', (_, over, message) => {
		expect(() => readSettings({ ...good, ...over })).toThrow(message);
		expect(() => readSettings({ ...good, ...over })).toThrow(SettingsError);
	});

	it('takes name servers with and without a port', () => {
		const servers = ['192.0.2.53', '127.0.0.1:4126', '2001:db8::53', '[2001:db8::53]:5353'];
		expect(readSettings({ ...good, STILE_NAME_SERVERS: servers.join(',') }).nameServers).toEqual(servers);
	});

	it('allows the demo its secrets and its clock', () => {
		const demo = {
			...good,
			STILE_MODE: 'demo',
			STILE_PAYMENTS_SECRET: 'stile-demo-till',
			STILE_CLOCK: 'movable'
		};
		expect(readSettings(demo)).toMatchObject({ mode: 'demo', hasMovableClock: true });
	});
});
