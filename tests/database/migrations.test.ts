/** Migrations: from the first schema on, with data; interrupted at any point; two at once. */
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createConnection, type Connection, type RowDataPacket } from 'mysql2/promise';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { readWay, USUAL_WAY } from '$core/media/way';
import { connect } from '$server/db/connect';
import { isMigrated, runMigrations } from '$server/db/migrate';
import { ownMailText } from '$server/db/queries/mail-texts';
import { selectItems } from '$server/db/queries/items';
import { allWays } from '$server/db/queries/library';
import { keepBase, policyInForce, policySource } from '$server/db/queries/policy';
import { items } from '$server/db/schema/library';
import { agreements } from '$server/db/schema/sales';

const FOLDER = 'src/server/db/migrations';
const A = '01a21006-0000-7000-8000-00000000000';

let url: string;
let name: string;
let admin: Connection;
let db: Connection;
let count = 0;
const folders: string[] = [];

beforeEach(async () => {
	const base = process.env.STILE_TEST_DATABASE ?? '';
	name = `migrations_${process.pid}_${++count}`;
	admin = await createConnection(base);
	await admin.query(`CREATE DATABASE ${name}`);
	url = `${base}${name}`;
	db = await createConnection({ uri: url, multipleStatements: true });
});
afterEach(async () => {
	await db.end();
	await admin.query(`DROP DATABASE ${name}`);
	await admin.end();
	for (const folder of folders.splice(0)) rmSync(folder, { recursive: true });
});

const rows = async (sql: string) => (await db.query<RowDataPacket[]>(sql))[0];

/** The migrations up to a number, as an earlier version shipped them. */
function upTo(count: number): string {
	const folder = mkdtempSync(join(tmpdir(), 'stile-migrations-'));
	folders.push(folder);
	mkdirSync(join(folder, 'meta'));
	const journal = JSON.parse(readFileSync(`${FOLDER}/meta/_journal.json`, 'utf8'));
	const entries = journal.entries.slice(0, count);
	for (const { tag } of entries) cpSync(`${FOLDER}/${tag}.sql`, join(folder, `${tag}.sql`));
	writeFileSync(join(folder, 'meta/_journal.json'), JSON.stringify({ ...journal, entries }));
	return folder;
}

/** A folder with one migration of its own. */
function own(statements: string[]): string {
	const folder = mkdtempSync(join(tmpdir(), 'stile-migrations-'));
	folders.push(folder);
	mkdirSync(join(folder, 'meta'));
	writeFileSync(join(folder, '0000_own.sql'), statements.join('\n--> statement-breakpoint\n'));
	const entries = [{ tag: '0000_own', when: Date.now() + 1e9 }];
	writeFileSync(join(folder, 'meta/_journal.json'), JSON.stringify({ entries }));
	return folder;
}

describe('from the schema of the first stages', () => {
	it('makes terms of prices, and agreements of subscriptions, with what they have paid and what they wait for', async () => {
		await runMigrations(url, upTo(27));
		const joined = '2026-01-31 10:00:00.000';
		const subscription = (n: number, state: string, period: number, attempt: number, beginning: string) =>
			`('${A}${n}', '${A}1', '${A}2', '${A}${n}', '${A}4', '${A}5', ${beginning}, 'card', '${joined}', 'Europe/Vienna', '${state}', ${period}, ${attempt})`;
		const begun = `'{"at":1,"state":{"kind":"active","period":0},"paid":[{"period":0,"attempt":1}]}'`;
		const tried = `'{"at":1,"state":{"kind":"renewing","period":1,"attempt":3},"paid":[]}'`;
		await db.query(`
			INSERT INTO accounts (id, email, name, role, created_at) VALUES ('${A}1', 'wren@mail.example', 'Wren', 'member', '${joined}');
			INSERT INTO plans (id, name, slug, \`lines\`, is_public, is_on_sale, after_lapse, created_at) VALUES ('${A}2', 'Workshop', 'workshop', '[]', 1, 1, 'on', '${joined}');
			INSERT INTO prices (id, plan_id, is_on_sale) VALUES ('${A}3', '${A}2', 1);
			INSERT INTO price_versions (id, price_id, version, amount_minor, currency, period_unit, period_count, created_at) VALUES ('${A}4', '${A}3', 1, 1200, 'EUR', 'month', 1, '${joined}');
			INSERT INTO orders (id, number, member_id, state, total_minor, currency, device_hash, created_at) VALUES ('${A}6', 'S-1', '${A}1', 'paid', 1200, 'EUR', '${'c'.repeat(64)}', '${joined}');
			INSERT INTO order_lines (id, order_id, plan_id, price_version_id, amount_minor) VALUES ('${A}7', '${A}6', '${A}2', '${A}4', 1200);
			INSERT INTO subscriptions (id, member_id, plan_id, order_line_id, price_version_id, grant_id, beginning, card_ref, anchor, zone, state, period, attempt) VALUES
				${subscription(7, 'active', 0, 0, begun)}, ${subscription(8, 'renewing', 1, 3, tried)}, ${subscription(9, 'ending', 2, 0, 'NULL')};
			INSERT INTO subscription_facts (id, subscription_id, at, heard_at, fact, once_key) VALUES ('${A}a', '${A}7', '${joined}', '${joined}', '{"kind":"cancel","at":5}', NULL);
			INSERT INTO payments (id, member_id, order_id, subscription_id, period, attempt, idempotency_key, state, amount_minor, currency, created_at) VALUES
				('${A}b', '${A}1', '${A}6', '${A}7', 1, 1, 'k', 'captured', 1200, 'EUR', '${joined}');
			INSERT INTO ledger_entries (id, at, kind, payment_id) VALUES ('${A}c', '${joined}', 'payment', '${A}b');
			INSERT INTO ledger_postings (id, entry_id, account, amount_minor, currency) VALUES
				('${A}d', '${A}c', 'processor', 1200, 'EUR'), ('${A}e', '${A}c', 'sales', -1200, 'EUR');
		`);
		await runMigrations(url);
		const price = {
			...{ currency: 'EUR', firstMinor: 1200, feeMinor: 0 },
			then: {
				kind: 'more',
				times: null,
				amountMinor: 1200,
				every: { count: 1, unit: 'month' },
				firstLasts: null
			}
		};
		expect(await rows('SELECT terms FROM price_versions')).toEqual([{ terms: price }]);
		expect(await rows('SELECT access FROM plans')).toEqual([{ access: { kind: 'while-paid' } }]);
		expect(await rows('SELECT kind, text, amount_minor, total_minor FROM order_lines')).toEqual([
			{ kind: 'plan', text: 'Workshop', amount_minor: 1200, total_minor: 1200 }
		]);
		const { db: handle, pool } = connect(url);
		const kept = await handle.select().from(agreements).orderBy(agreements.id);
		await pool.end();
		const agreed = { planId: `${A}2`, terms: price, access: { kind: 'while-paid' } };
		expect(kept.map((one) => one.agreed)).toEqual([agreed, agreed, agreed]);
		expect(
			kept.map(({ state, period, attempt, beginning, paidThrough, nextAt, nextMinor }) => ({
				...{ state, period, attempt, beginning: beginning?.state ?? null, nextMinor },
				until: paidThrough && new Date(paidThrough).toISOString().slice(0, 10),
				next: nextAt && new Date(nextAt).toISOString().slice(0, 10)
			}))
		).toEqual([
			{
				...{ state: 'running', period: 0, attempt: 0, beginning: { kind: 'running', period: 0 } },
				...{ nextMinor: 1200, until: '2026-02-28', next: '2026-02-28' }
			},
			{
				...{ state: 'owing', period: 1, attempt: 3, nextMinor: null, until: '2026-02-28', next: null },
				beginning: { kind: 'owing', period: 1, attempt: 3, hasAccess: true }
			},
			{
				...{ state: 'ending', period: 2, attempt: 0, beginning: null },
				...{ nextMinor: null, until: '2026-04-30', next: null }
			}
		]);
		expect(await rows('SELECT agreement_id, fact FROM agreement_facts')).toEqual([
			{ agreement_id: `${A}7`, fact: { kind: 'cancel', at: 5 } }
		]);
		expect(await rows('SELECT agreement_id FROM payments')).toEqual([{ agreement_id: `${A}7` }]);
		expect(await rows('SELECT account, plan_id, line_id FROM ledger_postings ORDER BY id')).toEqual([
			{ account: 'processor', plan_id: null, line_id: null },
			{ account: 'sales', plan_id: `${A}2`, line_id: `${A}7` }
		]);
		await expect(db.query("UPDATE price_versions SET terms = '{}'")).rejects.toThrow('never changed');
		await expect(db.query('UPDATE ledger_postings SET plan_id = NULL')).rejects.toThrow('never changed');
	});

	it('makes refunds and disputes of states of payments, and documents of receipts, whose numbers stay', async () => {
		await runMigrations(url, upTo(30));
		const at = '2026-01-31 10:00:00.000';
		const STATES = ['captured', 'declined', 'refunded', 'disputed', 'won', 'refunded'];
		const MOVED = [
			'payment',
			'',
			'payment refund',
			'payment dispute',
			'payment dispute won',
			'payment dispute won refund'
		];
		await db.query(`
			INSERT INTO accounts (id, email, name, role, created_at) VALUES ('${A}1', 'wren@mail.example', 'Wren', 'member', '${at}');
			INSERT INTO orders (id, number, member_id, state, total_minor, currency, device_hash, created_at) VALUES ('${A}6', 'S-1', '${A}1', 'paid', 1200, 'EUR', '${'c'.repeat(64)}', '${at}');`);
		let count = 0;
		for (const [n, state] of STATES.entries()) {
			await db.query(
				`INSERT INTO payments (id, member_id, order_id, period, attempt, idempotency_key, processor_ref, state, amount_minor, currency, created_at) VALUES ('${A}${n}', '${A}1', '${A}6', ${n}, 1, 'k${n}', 'ref-${n}', '${state}', 1200, 'EUR', '${at}')`
			);
			for (const kind of (MOVED[n] ?? '').split(' ').filter(Boolean)) {
				await db.query(
					`INSERT INTO ledger_entries (id, at, kind, payment_id) VALUES (uuid(), '${at}', '${kind}', '${A}${n}')`
				);
				await db.query(
					`INSERT INTO receipts (id, number, kind, payment_id, member_id, amount_minor, currency, content, issued_at) VALUES (uuid(), 'R-${++count}', '${kind}', '${A}${n}', '${A}1', 1200, 'EUR', '{"buyer":{"name":"Wren","email":"w"}}', '${at}')`
				);
			}
		}
		await runMigrations(url);
		expect(await rows('SELECT state, refunded_minor, dispute FROM payments ORDER BY id')).toEqual([
			{ state: 'captured', refunded_minor: 0, dispute: null },
			{ state: 'declined', refunded_minor: 0, dispute: null },
			{ state: 'captured', refunded_minor: 1200, dispute: null },
			{ state: 'captured', refunded_minor: 0, dispute: 'open' },
			{ state: 'captured', refunded_minor: 0, dispute: 'won' },
			{ state: 'captured', refunded_minor: 1200, dispute: 'won' }
		]);
		expect(await rows('SELECT payment_id, ref, amount_minor FROM refunds ORDER BY id')).toEqual(
			[2, 5].map((n) => ({ payment_id: `${A}${n}`, ref: `ref-${n}-refund`, amount_minor: 1200 }))
		);
		expect(await rows('SELECT ref, state FROM disputes ORDER BY id')).toEqual([
			{ ref: 'ref-3-dispute', state: 'open' },
			{ ref: 'ref-4-dispute', state: 'won' },
			{ ref: 'ref-5-dispute', state: 'won' }
		]);
		expect(
			await rows('SELECT number, kind, corrects FROM documents WHERE payment_id = ' + `'${A}2'`)
		).toEqual([
			{ number: 'R-2', kind: 'receipt', corrects: null },
			{ number: 'R-3', kind: 'credit-note', corrects: 'R-2' }
		]);
		expect(await rows('SELECT count(*) AS count FROM documents')).toEqual([{ count }]);
		expect(await rows('SELECT count(distinct source) AS count FROM ledger_entries')).toEqual([{ count }]);
		await expect(db.query("UPDATE documents SET number = 'X'")).rejects.toThrow('never changed');
	});

	it('carries what is there over: people, orders, rights and what still waits', async () => {
		await runMigrations(url, upTo(4));
		const now = '2026-10-01 12:00:00.000';
		const since = Date.parse('2026-09-01T08:00:00.250Z');
		const members = [`${A}2`, `${A}f`].map((memberId) => ({ memberId, since }));
		const named = { kind: 'named', members };
		const fence = { id: `${A}0`, name: 'All', crossings: [{ id: `${A}2`, audience: named }] };
		const policy = {
			resources: [],
			fences: [fence],
			plans: [],
			releases: [],
			turnAway: { answer: { kind: 'absent' }, cases: {}, teaser: { kind: 'nothing' } },
			limits: { uses: 'none', minutes: 'none', hours: 'none' },
			zone: 'Europe/Vienna',
			releaseHour: 7,
			lapseAfterDays: 2
		};
		await db.query(`
			INSERT INTO accounts (id, email, name, role, claimed_at, created_at) VALUES
				('${A}1', 'owner@clock.example', 'Ottilie', 'owner', '${now}', '${now}'),
				('${A}2', 'proved@mail.example', 'Wren', 'member', '${now}', '${now}'),
				('${A}3', 'paid@mail.example', 'Edda', 'member', '${now}', '${now}'),
				('${A}4', 'typed@mail.example', 'Nobody', 'member', NULL, '${now}'),
				('${A}5', 'invited@mail.example', 'Bram', 'member', NULL, '${now}');
			INSERT INTO sign_in_links (token_hash, account_id, next, created_at, expires_at, used_at) VALUES
				('${'a'.repeat(64)}', '${A}2', '/', '${now}', '${now}', '${now}'),
				('${'b'.repeat(64)}', '${A}5', '/', '${now}', '${now}', NULL);
			INSERT INTO orders (id, number, member_id, state, total_minor, currency, open_key, device_hash, signs_in, typed_password_hash, created_at) VALUES
				('${A}6', 'S-1', '${A}4', 'open', 1200, 'EUR', 'k', '${'c'.repeat(64)}', 1, 'secret', '${now}'),
				('${A}7', 'S-2', '${A}3', 'paid', 1200, 'EUR', NULL, '${'d'.repeat(64)}', 1, 'secret', '${now}');
			INSERT INTO payments (id, member_id, order_id, period, attempt, idempotency_key, state, amount_minor, currency, created_at) VALUES
				('${A}8', '${A}4', '${A}6', 0, 1, 'one', 'pending', 1200, 'EUR', '${now}'),
				('${A}9', '${A}3', '${A}7', 0, 1, 'two', 'captured', 1200, 'EUR', '${now}');
			INSERT INTO jobs (id, queue, kind, job_key, payload, run_at, state, created_at) VALUES
				('${A}a', 'billing', 'subscription-event', 'event:x', '{"subscriptionId":"${A}b"}', '${now}', 'waiting', '${now}'),
				('${A}c', 'mail', 'mail', NULL, '{"to":"paid@mail.example","text":"/enter/token"}', '${now}', 'waiting', '${now}');
			INSERT INTO tenures (id, member_id, plan_id, first_joined_at) VALUES
				('${A}d', '${A}2', '${A}e', '${now}'), ('${A}f', '${A}3', '${A}e', '${now}');
			INSERT INTO audit (id, wall_at, business_at, action, subject_kind, subject_id, member_id, after_value) VALUES
				('${A}d', '${now}', '${now}', 'set-first-day', 'account', '${A}2', '${A}2', '{"planId":"${A}e"}');
			INSERT INTO fences (id, name, is_on, mode, selector, listing, created_at) VALUES
				('${A}0', 'All', 1, 'adds', '{"kind":"everything"}', 'shown', '${now}');
			INSERT INTO crossings (id, fence_id, position, audience, limits, is_throughout) VALUES
				('${A}0', '${A}0', 0, '{"kind":"anyone"}', '{"uses":{"count":3,"per":"purchase"},"minutes":"none","hours":"site"}', 0),
				('${A}1', '${A}0', 1, '{"kind":"anyone"}', '{"uses":"site","minutes":5,"hours":"none"}', 0),
				('${A}2', '${A}0', 2, '${JSON.stringify(named)}', '{"uses":"none","minutes":"none","hours":"none"}', 0);
			INSERT INTO policy_versions (at, cause, source) VALUES ('${now}', 'saved', '${JSON.stringify(policy)}');
		`);
		await runMigrations(url);
		expect(await rows('SELECT email, proved_at IS NOT NULL AS proved FROM accounts ORDER BY id')).toEqual([
			{ email: 'owner@clock.example', proved: 1 },
			{ email: 'proved@mail.example', proved: 1 },
			{ email: 'paid@mail.example', proved: 0 },
			{ email: 'invited@mail.example', proved: 0 }
		]);
		expect(
			await rows('SELECT number, member_id, email, state, typed_password_hash FROM orders ORDER BY id')
		).toEqual([
			{
				number: 'S-1',
				member_id: null,
				email: 'typed@mail.example',
				state: 'expired',
				typed_password_hash: null
			},
			{ number: 'S-2', member_id: `${A}3`, email: null, state: 'paid', typed_password_hash: null }
		]);
		expect(await rows('SELECT member_id FROM payments ORDER BY id')).toEqual([
			{ member_id: null },
			{ member_id: `${A}3` }
		]);
		expect(await rows('SELECT kind, state, subject_id FROM jobs ORDER BY id')).toEqual([
			{ kind: 'agreement-event', state: 'waiting', subject_id: `${A}b` },
			{ kind: 'mail', state: 'failed', subject_id: null }
		]);
		expect(JSON.stringify(await rows('SELECT payload FROM jobs'))).not.toContain('/enter/');
		expect(await rows("SELECT payload FROM jobs WHERE kind = 'agreement-event'")).toEqual([
			{ payload: { agreementId: `${A}b` } }
		]);
		// A limit per purchase was always one per grant; a first day that somebody set stays what counts.
		expect((await rows('SELECT limits FROM crossings ORDER BY id')).map(({ limits }) => limits)).toEqual([
			{ uses: { count: 3, per: 'grant' }, minutes: 'none', hours: 'site' },
			{ uses: 'site', minutes: 5, hours: 'none' },
			{ uses: 'none', minutes: 'none', hours: 'none' }
		]);
		// Whoever was named in a crossing stands in a table by now, with the day; who was deleted since is left out.
		expect(await rows(`SELECT audience FROM crossings WHERE id = '${A}2'`)).toEqual([
			{ audience: { kind: 'named' } }
		]);
		expect(await rows('SELECT crossing_id, member_id, cast(since AS CHAR) AS since FROM namings')).toEqual([
			{ crossing_id: `${A}2`, member_id: `${A}2`, since: '2026-09-01 08:00:00.250' }
		]);
		expect(await rows('SELECT is_set_by_hand AS hand FROM tenures ORDER BY id')).toEqual([
			{ hand: 1 },
			{ hand: 0 }
		]);
		expect(await rows('SELECT once_key FROM once_keys')).toEqual([{ once_key: 'event:x' }]);
		const { db: handle, pool } = connect(url);
		await keepBase(handle, Date.now());
		const { version, source } = await policyInForce(handle);
		expect(source.fences[0]?.crossings).toEqual([{ id: `${A}2`, audience: { kind: 'named' } }]);
		expect({ version, zone: source.zone, hour: source.releaseHour }).toEqual({
			version: 1,
			zone: 'Europe/Vienna',
			hour: 7
		});
		expect(await isMigrated(pool)).toBe(true);
		await pool.end();
	});

	it('is taken for done where an earlier version has run it by its own list', async () => {
		await runMigrations(url);
		await db.query(
			'DROP TABLE migrations_done; DROP TABLE migration_steps; CREATE TABLE __drizzle_migrations (id INT, hash TEXT, created_at BIGINT); INSERT INTO __drizzle_migrations VALUES (1, "", 99999999999999)'
		);
		await runMigrations(url);
		const { db: handle, pool } = connect(url);
		expect(await isMigrated(pool)).toBe(true);
		expect((await policySource(handle)).resources).toEqual([]);
		await pool.end();
	});
});

describe('items that were one table', () => {
	it('keep their texts, pictures and what their kind has, in the language of the site', async () => {
		await runMigrations(url, upTo(18));
		const now = '2026-10-01 12:00:00.000';
		const body = [{ type: 'paragraph', content: [{ type: 'text', text: 'Tick' }] }];
		await db.query(`
			UPDATE settings SET value = json_set(value, '$.language', 'de');
			INSERT INTO items (id, kind, title, description, body, address, state, base, target, shows_poster, cover_key, opens_in_browser, preset_id, deterrents, created_at, changed_at) VALUES
				('${A}1', 'page', 'Hemmung', 'Tick', '${JSON.stringify(body)}', '/hemmung', 'published', 'open', NULL, 1, 'covers/a.jpg', 0, NULL, NULL, '${now}', '${now}'),
				('${A}2', 'link', 'Öl', '', NULL, '/oel', 'draft', 'closed', 'https://oil.example/', 0, NULL, 1, NULL, NULL, '${now}', '${now}'),
				('${A}3', 'file', 'Plan', 'Ein Plan', NULL, '/plan', 'draft', 'closed', NULL, 0, NULL, 1, NULL, '{"embedSites":[]}', '${now}', '${now}'),
				('${A}4', 'video', 'Rad', '', NULL, '/rad', 'draft', 'closed', NULL, 1, NULL, 0, '${A}9', NULL, '${now}', '${now}');
		`);
		await runMigrations(url);
		const { db: handle, pool } = connect(url);
		const plain = { body: null, target: null, coverKey: null, wayId: null, deterrents: null };
		expect(await selectItems(handle).orderBy(items.id)).toMatchObject([
			{
				title: 'Hemmung',
				description: 'Tick',
				body,
				showsPoster: true,
				coverKey: 'covers/a.jpg',
				opensInBrowser: false
			},
			{ ...plain, title: 'Öl', target: 'https://oil.example/', opensInBrowser: true, showsPoster: false },
			{
				...plain,
				title: 'Plan',
				description: 'Ein Plan',
				opensInBrowser: true,
				deterrents: { embedSites: [] }
			},
			{ ...plain, title: 'Rad', wayId: `${A}9`, opensInBrowser: false, showsPoster: true }
		]);
		expect(await rows('SELECT DISTINCT language, revision FROM items')).toEqual([
			{ language: 'de', revision: 1 }
		]);
		await pool.end();
	});
});

describe('ways of watching', () => {
	const old = (id: string, name: string, isDefault: 0 | 1, preset: object) =>
		`('${A}${id}', '${name}', ${isDefault}, '${JSON.stringify(preset)}')`;
	const all = {
		accent: '#2c6650',
		controls: [
			'seek',
			'volume',
			'speed',
			'captions',
			'chapters',
			'quality',
			'picture-in-picture',
			'full-screen'
		],
		speeds: [0.5, 1, 2],
		seeking: 'back',
		isFolded: true,
		startsMuted: true
	};

	it('that were set as presets are carried over, and three come with Stile', async () => {
		await runMigrations(url, upTo(23));
		await db.query(`
			INSERT INTO player_presets (id, name, is_default, preset) VALUES
				${old('1', 'Klein', 0, { ...all, controls: ['speed', 'seek'], accent: null, seeking: 'free', isFolded: false })},
				${old('2', 'Streng', 1, all)},
				${old('3', 'Ohne', 0, { ...all, controls: ['volume'], startsMuted: false })};
		`);
		await runMigrations(url);
		const { db: handle, pool } = connect(url);
		const ways = await allWays(handle);
		for (const { way } of ways)
			expect(readWay({ ...way, may: [...way.may].sort() })).toEqual({ ...way, may: [...way.may].sort() });
		expect(ways.filter(({ isDefault }) => isDefault).map(({ name }) => name)).toEqual(['Streng']);
		const byName = Object.fromEntries(ways.map(({ name, way }) => [name, way]));
		expect(Object.keys(byName).sort()).toEqual([
			'As in a hall',
			'At leisure',
			'Klein',
			'Ohne',
			'Step by step',
			'Streng'
		]);
		expect(byName['Klein']).toEqual({
			accent: null,
			may: [],
			speeds: [0.5, 1, 2],
			going: 'anywhere',
			resting: 'all',
			startsMuted: true
		});
		expect(byName['Streng']).toEqual({
			accent: '#2c6650',
			may: ['volume', 'captions', 'chapters', 'quality', 'picture-in-picture', 'full-screen'],
			speeds: [0.5, 1, 2],
			going: 'back',
			resting: 'few',
			startsMuted: true
		});
		expect(byName['Ohne']).toMatchObject({
			may: ['volume'],
			speeds: [1],
			going: 'nowhere',
			startsMuted: false
		});
		expect(byName['At leisure']).toEqual(USUAL_WAY);
		await pool.end();
	});

	it('have a usual one where nobody had made any', async () => {
		await runMigrations(url);
		const { db: handle, pool } = connect(url);
		expect((await allWays(handle)).map(({ name, isDefault }) => [name, isDefault])).toEqual([
			['As in a hall', false],
			['At leisure', true],
			['Step by step', false]
		]);
		await pool.end();
	});
});

describe('a migration', () => {
	const SLOW = [
		'CREATE TABLE first (id INT)',
		'INSERT INTO first VALUES (1)',
		'INSERT INTO first SELECT SLEEP(3) + 2',
		'ALTER TABLE first ADD COLUMN name VARCHAR(10)'
	];

	it('that is cut off in the middle goes on from there, and does nothing twice', async () => {
		const folder = own(SLOW);
		const running = runMigrations(url, folder).catch((error: Error) => error);
		await expect
			.poll(async () =>
				(await rows('SHOW FULL PROCESSLIST')).some(({ Info }) => /SLEEP\(3\)/.test(Info ?? ''))
			)
			.toBe(true);
		const [slow] = (await rows('SHOW FULL PROCESSLIST')).filter(
			({ Info, db: at }) => at === name && /INSERT INTO first SELECT/.test(Info ?? '')
		);
		await admin.query(`KILL ${slow?.Id}`);
		expect(await running).toBeInstanceOf(Error);
		await runMigrations(url, folder);
		await runMigrations(url, folder);
		expect(await rows('SELECT id, name FROM first ORDER BY id')).toEqual([
			{ id: 1, name: null },
			{ id: 2, name: null }
		]);
	});

	it('whose last change of a table was done but not written down is not stopped by that', async () => {
		const folder = own([
			'CREATE TABLE first (id INT)',
			'ALTER TABLE first ADD COLUMN name INT',
			'INSERT INTO first VALUES (1, 2)'
		]);
		const cut = own(['CREATE TABLE first (id INT)', 'ALTER TABLE first ADD COLUMN name INT']);
		await runMigrations(url, cut);
		await db.query('DELETE FROM migrations_done; UPDATE migration_steps SET done_at = NULL WHERE step = 1');
		await runMigrations(url, folder);
		expect(await rows('SELECT * FROM first')).toEqual([{ id: 1, name: 2 }]);
	});

	it('that cannot be done says which statement, and why', async () => {
		await expect(
			runMigrations(url, own(['CREATE TABLE a (id INT)', 'ALTER TABLE b ADD c INT']))
		).rejects.toThrow(/Statement 2 of 0000_own failed: Table .*b' doesn't exist/);
	});

	it('is run by one of several that start at once', async () => {
		const folder = own(['CREATE TABLE first (id INT)', 'INSERT INTO first VALUES (1)']);
		await Promise.all(Array.from({ length: 4 }, () => runMigrations(url, folder)));
		expect(await rows('SELECT id FROM first')).toEqual([{ id: 1 }]);
	});
});

it('stands in the journal in the order of its making', () => {
	const { entries } = JSON.parse(readFileSync(`${FOLDER}/meta/_journal.json`, 'utf8')) as {
		entries: { idx: number; when: number; tag: string }[];
	};
	expect(entries.length).toBeGreaterThan(5);
	expect(entries.map(({ when }) => when)).toEqual(entries.map(({ when }) => when).sort((a, b) => a - b));
	expect(entries.map(({ tag }) => Number(tag.slice(0, 4)))).toEqual(entries.map((_, n) => n));
});

describe('words of mails that were in one language', () => {
	it('are kept in the language of the site', async () => {
		await runMigrations(url, upTo(52));
		await db.query(`
			UPDATE settings SET value = json_set(value, '$.language', 'de');
			INSERT INTO mail_texts (occasion, subject, text, button, changed_at) VALUES ('order', 'Offen', 'Danke.', 'Hinein', '2026-10-01 12:00:00.000');
		`);
		await runMigrations(url);
		const { db: handle, pool } = connect(url);
		const own = { subject: 'Offen', text: 'Danke.', button: 'Hinein' };
		expect(await ownMailText(handle, 'order', 'de')).toEqual(own);
		expect(await ownMailText(handle, 'order', 'en')).toBeNull();
		await pool.end();
	});
});

describe('orders of one thing each', () => {
	it('keep what they stand by, what was taken off, and what they have begun or moved', async () => {
		await runMigrations(url, upTo(61));
		const B = A.slice(0, -1);
		const at = '2026-10-01 12:00:00.000';
		const off = '{"off":{"kind":"percent","percent":10},"payments":1}';
		const order = (n: number, state: string, key: string) =>
			`('${B}${n}0', 'S-${n}', '${A}1', '${state}', 1200, 'EUR', 'card', 1, ${key}, '${off}', '${'c'.repeat(64)}', '${at}')`;
		const line = (n: number, kind: string, plan: number) =>
			`('${B}${n}1', '${B}${n}0', '${kind}', 'Workshop', '${A}${plan}', '${A}4', 1200, 1200)`;
		await db.query(`
			INSERT INTO accounts (id, email, name, role, created_at) VALUES ('${A}1', 'wren@mail.example', 'Wren', 'member', '${at}');
			INSERT INTO ladders (id, name) VALUES ('${A}9', 'Workshop');
			INSERT INTO plans (id, name, slug, \`lines\`, is_public, is_on_sale, after_lapse, ladder_id, created_at) VALUES
				('${A}2', 'Workshop', 'workshop', '[]', 1, 1, 'on', '${A}9', '${at}'), ('${A}5', 'Book', 'book', '[]', 1, 1, 'on', NULL, '${at}');
			INSERT INTO prices (id, plan_id, is_on_sale) VALUES ('${A}3', '${A}2', 1);
			INSERT INTO price_versions (id, price_id, version, terms, created_at) VALUES ('${A}4', '${A}3', 1, '{}', '${at}');
			INSERT INTO orders (id, number, member_id, state, total_minor, currency, processor, seats, open_key, discount, device_hash, created_at) VALUES
				${order(6, 'open', `'${A}1:${A}2'`)}, ${order(7, 'paid', 'NULL')}, ${order(8, 'open', `'${A}1:${A}5'`)}, ${order(3, 'paid', 'NULL')};
			INSERT INTO order_lines (id, order_id, kind, text, plan_id, price_version_id, amount_minor, total_minor) VALUES
				${line(6, 'plan', 2)}, ${line(7, 'plan', 2)}, ${line(8, 'plan', 5)}, ${line(3, 'move', 2)},
				('${B}72', '${B}70', 'fee', 'Workshop', '${A}2', '${A}4', 100, 100);
			INSERT INTO agreements (id, member_id, plan_id, order_line_id, price_version_id, grant_id, agreed, anchor, zone, state, period, attempt)
				VALUES ('${B}a0', '${A}1', '${A}2', '${B}31', '${A}4', '${B}a1', '{}', '${at}', 'Europe/Vienna', 'running', 0, 0);
			INSERT INTO payments (id, member_id, order_id, agreement_id, period, attempt, idempotency_key, state, amount_minor, currency, created_at)
				VALUES ('${B}b0', '${A}1', '${B}70', '${B}a0', 0, 1, 'k', 'captured', 1200, 'EUR', '${at}');
		`);
		await runMigrations(url);
		expect(await rows('SELECT claim_key, order_id FROM order_claims ORDER BY order_id')).toEqual([
			{ claim_key: `${A}1:${A}9`, order_id: `${B}60` },
			{ claim_key: `${A}1:${A}5`, order_id: `${B}80` }
		]);
		expect(
			await rows(
				'SELECT id, position, discount IS NOT NULL AS has, agreement_id FROM order_lines ORDER BY id'
			)
		).toEqual([
			{ id: `${B}31`, position: 0, has: 1, agreement_id: `${B}a0` },
			{ id: `${B}61`, position: 0, has: 1, agreement_id: null },
			// What another order has moved since was begun by this one.
			{ id: `${B}71`, position: 0, has: 1, agreement_id: `${B}a0` },
			{ id: `${B}72`, position: 0, has: 0, agreement_id: null },
			{ id: `${B}81`, position: 0, has: 1, agreement_id: null }
		]);
	});
});
