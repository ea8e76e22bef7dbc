/** What comes in, by whichever way: looked at by its content, put where it belongs, or refused with a reason. */
import { execFileSync } from 'node:child_process';
import {
	copyFileSync,
	existsSync,
	mkdirSync,
	mkdtempSync,
	readdirSync,
	readFileSync,
	writeFileSync
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { crc32, deflateRawSync, deflateSync } from 'node:zlib';
import { PDFDocument } from 'pdf-lib';
import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { itemById, selectItems, titles } from '$server/db/queries/items';
import { allCategories, allTags, tagsOfItem } from '$server/db/queries/library';
import { items } from '$server/db/schema/library';
import { Inbox } from '$server/jobs/inbox';
import { decideRefused, inboxView } from '$server/usecases/library/inbox';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { createItem } from '$server/usecases/library/edit-item';
import {
	importTable,
	tableToMend,
	tryTable,
	type ImportProblem
} from '$server/usecases/library/import-table';
import { lookAtFile } from '$server/usecases/library/look-at-file';
import { receiveFile } from '$server/usecases/library/receive-file';
import { shelfOf } from '$server/usecases/library/shelves';
import { assetOf, film } from './films';
import { holdAfter } from './interleave';
import { makeWorld, type World } from './world';

const MB = 1024 ** 2;

let world: World;
const folder = mkdtempSync(join(tmpdir(), 'stile-bringing-in-'));

beforeAll(async () => {
	world = await makeWorld();
});
afterAll(async () => world.end());

function written(name: string, content: Uint8Array | string): string {
	const path = join(mkdtempSync(join(folder, 'file-')), 'content');
	writeFileSync(path, content);
	return existsSync(path) ? path : name;
}

const look = (name: string, content: Uint8Array | string) =>
	lookAtFile(world.app, written(name, content), name);

async function pdf(pages: number): Promise<Uint8Array> {
	const made = await PDFDocument.create();
	for (let page = 0; page < pages; page++) made.addPage([200, 200]);
	return made.save();
}

/** An archive with one entry (APPNOTE 6.3, §4.3). */
function zip(name: string, content: Uint8Array): Uint8Array {
	const packed = deflateRawSync(content, { level: 9 });
	const common = Buffer.alloc(26);
	common.writeUInt16LE(20, 0);
	common.writeUInt16LE(8, 4);
	common.writeUInt32LE(crc32(content), 10);
	common.writeUInt32LE(packed.length, 14);
	common.writeUInt32LE(content.length, 18);
	common.writeUInt16LE(name.length, 22);
	const local = Buffer.concat([Buffer.from('PK\x03\x04'), common, Buffer.from(name), packed]);
	const central = Buffer.concat([
		Buffer.from('PK\x01\x02\x14\x00'),
		common,
		Buffer.alloc(14),
		Buffer.from(name)
	]);
	const end = Buffer.alloc(18);
	end.writeUInt16LE(1, 4);
	end.writeUInt16LE(1, 6);
	end.writeUInt32LE(central.length, 8);
	end.writeUInt32LE(local.length, 12);
	return Buffer.concat([local, central, Buffer.from('PK\x05\x06'), end]);
}

/** A document whose one stream unfolds into so many bytes. */
function unfoldingPdf(bytes: number): Uint8Array {
	const packed = deflateSync(Buffer.alloc(bytes, '1 0 '), { level: 9 });
	const head = `%PDF-1.7\n1 0 obj\n<< /Type /ObjStm /N 100000 /First 100 /Filter /FlateDecode /Length ${packed.length} >>\nstream\n`;
	return Buffer.concat([
		Buffer.from(head),
		packed,
		Buffer.from('\nendstream\nendobj\ntrailer\n<< /Root 2 0 R >>\n%%EOF\n')
	]);
}

describe('a file', () => {
	it('is known by its content', async () => {
		expect(await look('tables.pdf', await pdf(3))).toMatchObject({
			ok: true,
			file: { kind: 'file', mediaType: 'application/pdf', extension: 'pdf' },
			facts: { pages: 3 }
		});
		expect(await look('teeth.csv', 'wheel,teeth\ngreat,96\n')).toMatchObject({
			ok: true,
			file: { kind: 'file', mediaType: 'text/csv' },
			media: null
		});
		const path = film(2, '320x180');
		expect(await lookAtFile(world.app, path, 'film')).toMatchObject({
			ok: true,
			file: { kind: 'video' },
			media: { width: 320, height: 180, hasSound: true },
			facts: { codecs: ['h264', 'aac'] }
		});
		const sound = join(folder, 'sound.mp3');
		execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'sine=300:d=3', sound]);
		expect(await lookAtFile(world.app, sound, 'hour.mp3')).toMatchObject({
			ok: true,
			file: { kind: 'audio', mediaType: 'audio/mpeg' },
			media: { hasPicture: false }
		});
	});

	it.each([
		['film.mp4', 'These are only words', 'text'],
		['tables.pdf', 'These are only words', 'text'],
		['film.mp4', 'ffconcat version 1.0\nfile /etc/passwd\n', 'text'],
		['film.mp4', '#EXTM3U\n#EXTINF:2,\nfile:///etc/passwd\n', 'text'],
		['picture.png', '%PDF-1.7\n%\xe2\xe3\n', 'pdf'],
		['film.mp4', zip('film.txt', Buffer.from('words')), 'zip']
	])('called %s that is something else is refused: %#', async (name, content, is) => {
		expect(await look(name, content)).toMatchObject({ ok: false, problem: { code: 'not-what-it-says', is } });
	});

	it('that is a film cut short is refused', async () => {
		const whole = readFileSync(film(2, '320x180'));
		const cut = await look('film.mp4', whole.subarray(0, 2000));
		expect(cut).toMatchObject({ ok: false, problem: { code: 'broken-media' } });
		expect(await look('film.mp4', '')).toMatchObject({ ok: false, problem: { code: 'empty' } });
	});

	it('that unfolds into very much is taken as it is, and unfolds nowhere', async () => {
		const bomb = zip('zeros', Buffer.alloc(128 * MB));
		expect(bomb.length).toBeLessThan(MB);
		const before = process.memoryUsage().rss;
		expect(await look('archive.zip', bomb)).toMatchObject({
			ok: true,
			bytes: bomb.length,
			file: { kind: 'file', mediaType: 'application/zip' }
		});
		const document = unfoldingPdf(256 * MB);
		expect(document.length).toBeLessThan(2 * MB);
		const looked = await look('document.pdf', document);
		expect(looked).toMatchObject({ ok: true, file: { mediaType: 'application/pdf' } });
		expect(looked.ok && looked.facts.pages).toBeUndefined();
		expect((process.memoryUsage().rss - before) / MB).toBeLessThan(2000);
	});

	it.each([
		['振り子'.repeat(28) + '.txt', '振り子'.repeat(28)],
		['ā'.repeat(125) + '.txt', 'Ā' + 'ā'.repeat(124)],
		['../../etc/passwd.txt', 'Passwd']
	])('keeps its name, in any script: %#', async (name, title) => {
		const received = await receiveFile(world.app, null, { path: written(name, 'words'), name });
		if (!received.ok) throw new Error(received.problem.code);
		expect((await itemById(world.app.db, received.itemId))?.title).toBe(title);
		const { fileName } = await assetOf(world, received.itemId);
		expect(fileName).toBe(name.split('/').at(-1));
	});
});

describe('folders', () => {
	it('become shelves once, however many files come at the same time', async () => {
		const made = await Promise.all(
			Array.from({ length: 6 }, () => shelfOf(world.app, null, null, 'Wheels/Small ones'))
		);
		expect(new Set(made).size).toBe(1);
		const shelf = await itemById(world.app.db, made[0] ?? '');
		expect(shelf).toMatchObject({
			kind: 'shelf',
			title: 'Small ones',
			address: '/shelves/wheels/small-ones'
		});
		const outer = await selectItems(world.app.db).where(eq(titles.plain, 'Wheels'));
		expect(outer.map(({ id }) => id)).toEqual([shelf?.homeId]);
	});

	it('are made once by two who found none: between looking and making there is nobody else', async () => {
		const come = () => shelfOf(world.app, null, null, 'Springs');
		let other: Promise<string | null> | null = null;
		const meanwhile = () => Promise.race([(other = come()), wait(300)]);
		const look = /from `items` .* where .*`plain` = \?/;
		const hold = holdAfter(world.app.db, look, meanwhile, 2);
		const mine = await come();
		hold.end();
		expect(hold.wasMet()).toBe(true);
		expect(await other).toBe(mine);
	});

	it('give addresses that nobody else has, however many ask for one name at once', async () => {
		const come = (n: number) =>
			receiveFile(world.app, null, { path: written('words', `words ${n}`), name: 'index.txt' });
		const received = await Promise.all(Array.from({ length: 4 }, (_, n) => come(n)));
		const page = {
			title: 'Index',
			kind: 'page',
			text: [],
			address: '',
			homeId: null
		} as const;
		const rest = {
			categoryId: null,
			tagIds: [],
			base: 'open',
			extension: null,
			target: null,
			showsPoster: false
		} as const;
		const made = await Promise.all(
			Array.from({ length: 4 }, () => createItem(world.app, null, { ...page, ...rest, text: [], tagIds: [] }))
		);
		expect(received.every(({ ok }) => ok)).toBe(true);
		expect(made.every(({ kind }) => kind === 'saved')).toBe(true);
		const named = await selectItems(world.app.db).where(eq(titles.plain, 'Index'));
		expect(named.map(({ address }) => address).sort()).toEqual([
			...['/files/index', '/files/index-2', '/files/index-3', '/files/index-4'],
			...['/index', '/index-2', '/index-3', '/index-4']
		]);
	});

	it('that lead out of where they are lead nowhere', async () => {
		const id = await shelfOf(world.app, null, null, '../../..\\Wheels/./Small ones');
		expect(id).toBe(await shelfOf(world.app, null, null, 'Wheels/Small ones'));
	});
});

describe('the inbox', () => {
	const inboxFolder = join(folder, 'inbox');
	const put = (name: string, content: string) => {
		mkdirSync(dirname(join(inboxFolder, name)), { recursive: true });
		writeFileSync(join(inboxFolder, name), content);
	};
	const titled = async (title: string) => selectItems(world.app.db).where(eq(titles.plain, title));

	it('takes what has stopped growing, folders as shelves, and puts aside what it refuses, with the reason', async () => {
		const inbox = new Inbox(world.app, inboxFolder);
		put('Tables/Cutting/teeth.csv', 'a,b\n');
		put('lies.pdf', 'no pdf at all');
		put('.half.csv', 'still being copied');
		put('growing.csv', 'a');
		inbox.start();
		const growing = setInterval(() => put('growing.csv', 'a'.repeat(1 + (Date.now() % 1000))), 500);
		await expect.poll(async () => (await titled('Teeth')).length, { timeout: 20_000, interval: 200 }).toBe(1);
		await expect.poll(async () => (await inboxView(inboxFolder)).refused.length, { timeout: 5000 }).toBe(1);
		clearInterval(growing);
		await inbox.stop();
		const [teeth] = await titled('Teeth');
		expect(teeth).toMatchObject({ kind: 'file', state: 'draft', base: 'closed', extension: 'csv' });
		const cutting = await itemById(world.app.db, teeth?.homeId ?? '');
		expect(cutting).toMatchObject({ kind: 'shelf', title: 'Cutting' });
		expect(await itemById(world.app.db, cutting?.homeId ?? '')).toMatchObject({ title: 'Tables' });
		expect(await titled('Growing')).toEqual([]);
		const view = await inboxView(inboxFolder);
		expect(view.waiting).toEqual(['growing.csv']);
		expect(view.refused).toEqual([
			{ name: 'lies.pdf', why: expect.stringContaining('what is in it is words') as string }
		]);
	});

	it('puts back or throws away only what was refused', async () => {
		expect(await decideRefused(null, inboxFolder, '../growing.csv', false)).toMatchObject({ ok: false });
		expect(await decideRefused(null, inboxFolder, 'lies.pdf', true)).toEqual({ ok: true });
		expect((await inboxView(inboxFolder)).waiting.sort()).toEqual(['growing.csv', 'lies.pdf']);
		expect(readdirSync(join(inboxFolder, 'refused'))).toEqual([]);
		copyFileSync(join(inboxFolder, 'lies.pdf'), join(inboxFolder, 'refused', 'lies.pdf'));
		put('refused/lies.pdf.why.txt', 'It lies.');
		expect(await decideRefused(null, inboxFolder, 'lies.pdf', false)).toEqual({ ok: true });
		expect(readdirSync(join(inboxFolder, 'refused'))).toEqual([]);
	});
});

describe('a table', () => {
	const write = (csv: string) => agreeing((agreedTo) => importTable(world.app, null, csv, agreedTo));
	const at = async (address: string) => {
		const [row] = await selectItems(world.app.db).where(eq(items.address, address));
		return row;
	};

	it('says what it would do, and does nothing', async () => {
		const tried = await tryTable(
			world.app,
			'title,address,kind,shelf,category,tags\r\n"Oil, and how little",/oil,link,Benches/Left,Care,oil; care\r\n'
		);
		expect(tried).toEqual({
			ok: true,
			rows: [{ line: 2, title: 'Oil, and how little', address: '/oil', does: 'adds' }],
			problems: [],
			columns: ['title', 'address', 'kind', 'shelf', 'category', 'tags'].map((name) => ({
				name,
				column: name
			})),
			newShelves: ['Benches / Left'],
			newLabels: ['Care', 'oil', 'care']
		});
		expect(await at('/oil')).toBeUndefined();
		expect(await allCategories(world.app.db)).toEqual([]);
	});

	it('is read by what somebody says that its columns are, and gives back what will not do', async () => {
		const csv = 'Heading,url,Sort\nOil,/oil,page\nDial,dial,disc\nWheel,,page\n';
		const words = ({ code, column }: ImportProblem) => `${code} of ${column}.`;
		const unsaid = await tryTable(world.app, csv);
		expect(unsaid.ok && unsaid.problems.filter(({ code }) => code === 'nothing-there')).toHaveLength(3);
		const taken = { 0: 'title', 2: 'kind' } as const;
		const tried = await tryTable(world.app, csv, taken);
		expect(tried).toMatchObject({
			columns: [{ column: 'title' }, { column: 'address' }, { column: 'kind' }],
			rows: [{ title: 'Oil' }, { title: 'Dial' }, { title: 'Wheel' }]
		});
		expect(await tableToMend(world.app, csv, taken, words)).toEqual([
			['Heading', 'url', 'Sort', 'what is wrong'],
			['Dial', 'dial', 'disc', expect.stringMatching(/^bad-address of address\. unknown-kind of kind\./)]
		]);
		expect(await tableToMend(world.app, 'a"b', taken, words)).toEqual([]);
		expect(await importTable(world.app, null, csv, null, taken)).toEqual({
			kind: 'refused',
			code: 'has-problems'
		});
	});

	it('makes items with shelves and labels, and changes what has its address', async () => {
		const csv =
			'\ufefftitle;address;kind;shelf;category;tags;target\n"Oil; and how little";/oil;link;Benches/Left;Care;oil,care;https://oil.example/\n';
		expect(await write(csv)).toEqual({ kind: 'saved', count: 1 });
		const oil = await at('/oil');
		expect(oil).toMatchObject({
			title: 'Oil; and how little',
			kind: 'link',
			state: 'draft',
			target: 'https://oil.example/'
		});
		const shelf = await itemById(world.app.db, oil?.homeId ?? '');
		expect(shelf?.title).toBe('Left');
		expect((await allTags(world.app.db)).map(({ name }) => name)).toEqual(['oil,care']);
		await write('address,title,tags,state\n/oil,Oil,,published\n');
		const after = await at('/oil');
		expect(after).toMatchObject({ id: oil?.id, title: 'Oil', state: 'published', homeId: oil?.homeId });
		expect(await tagsOfItem(world.app.db, oil?.id ?? '')).toEqual([]);
	});

	it.each([
		['title,kind\nWheel,video\n', 'needs-file'],
		['title,kind\nLesson,lesson\n', 'needs-home'],
		['title,address\nWheel,/desk/wheel\n', 'reserved-address'],
		['title,kind,target\nWheel,link,javascript:alert(1)\n', 'bad-target'],
		['title,kind,target\nWheel,page,https://wheel.example/\n', 'no-link'],
		['title,address,kind\nOil,/oil,page\n', 'another-kind'],
		['title,address\n,/nothing\n', 'nothing-there']
	])('writes none of its rows when one is wrong: %j', async (csv, code) => {
		const before = await world.app.db.$count(items);
		const withGood = csv.replace('\n', '\nGood\n');
		const tried = await tryTable(world.app, withGood);
		expect(tried).toMatchObject({ ok: true });
		expect(tried.ok && tried.problems.map((problem) => problem.code)).toContain(code);
		expect(await importTable(world.app, null, withGood, null)).toEqual({
			kind: 'refused',
			code: 'has-problems'
		});
		expect(await world.app.db.$count(items)).toBe(before);
	});

	it('that is none is refused', async () => {
		expect(await tryTable(world.app, 'title\n"never ends')).toMatchObject({ ok: false, code: 'not-a-table' });
		expect(await tryTable(world.app, '')).toMatchObject({ ok: false, code: 'empty' });
	});

	it('of a thousand rows is written in one go', async () => {
		const rows = Array.from({ length: 1000 }, (_, n) => `Supplier ${n},page,Suppliers by number`);
		const wrote = await write(`title,kind,category\n${rows.join('\n')}\n`);
		expect(wrote).toEqual({ kind: 'saved', count: 1000 });
		expect(await at('/supplier-999')).toMatchObject({ title: 'Supplier 999', kind: 'page', base: 'open' });
	});
});
