/** Describes many items by a table: tried first, then written together. */
import { setImmediate as pause } from 'node:timers/promises';
import { isFree, normalisePath } from '$core/access/address';
import type { Resource } from '$core/access/model';
import { isLink } from '$core/text/rich-text';
import { canLiveIn, isBytes, NEEDS_HOME } from '$core/library/homes';
import { readTable, type Column, type ReadTable, type RowProblem, type TableRow } from '$core/library/table';
import { rowsToMend, type TakenAs, type TakenColumn } from '$core/text/columns';
import type { Using } from '../../app';
import { cellsOf, ROWS_AT_ONCE, type Counting } from '../csv-cells';
import { itemsByIds, type Item } from '../../db/queries/items';
import { allCategories, allTags, assetOfItem } from '../../db/queries/library';
import { freeAddress } from './edit-item';
import { consentOf, type Mint, type Rehearsing } from '../access/rehearsed-save';
import { makeLabels, type LabelKind } from './labels';
import { writeMany, type ItemChange, type WroteMany } from './write-many';
import { need, type Staff } from '../../people/need';

export type ImportProblem = RowProblem | { line: number; column: null; code: ImportCode; seen: string };
type ImportCode =
	| 'nothing-there'
	| 'needs-file'
	| 'needs-home'
	| 'wrong-home'
	| 'another-kind'
	| 'reserved-address'
	| 'bad-target'
	| 'no-link'
	| 'not-ready';

export type Tried =
	| {
			ok: false;
			code: Exclude<ReadTable, { ok: true }>['code'] | 'not-a-table';
			seen: string;
			columns: TakenColumn<Column>[];
	  }
	| {
			ok: true;
			rows: { line: number; title: string; address: string; does: 'adds' | 'changes' }[];
			problems: ImportProblem[];
			columns: TakenColumn<Column>[];
			newShelves: string[];
			newLabels: string[];
	  };

/** What the table would do. Nothing is written. */
export async function tryTable(
	app: Using<'db' | 'rights'>,
	csv: string,
	taken: TakenColumns = {},
	counting?: Counting
): Promise<Tried> {
	return tryRead(app, await readCsv(csv, taken), counting);
}

export type TakenColumns = TakenAs<Column>;

/** The rows of a table that will not do, to be mended. @param words of what is wrong with one */
export async function tableToMend(
	app: Using<'db' | 'rights'>,
	csv: string,
	taken: TakenColumns,
	words: (problem: ImportProblem) => string
): Promise<string[][]> {
	const cells = await cellsOf(csv);
	const tried = await tryTable(app, csv, taken);
	if (!cells.ok || !tried.ok) return [];
	return rowsToMend(
		cells.cells,
		tried.problems.map((one) => ({ line: one.line, words: words(one) }))
	);
}

async function tryRead(
	app: Using<'db' | 'rights'>,
	read: Awaited<ReturnType<typeof readCsv>>,
	counting?: Counting
): Promise<Tried> {
	if (!read.ok) return read;
	counting?.expect(read.rows.length);
	const { known, categories, tags, shelves } = await surroundings(app);
	const rows: Extract<Tried, { ok: true }>['rows'] = [];
	const problems: ImportProblem[] = [...read.problems];
	const newShelves = new Set<string>();
	const newLabels = new Set<string>();
	for (const [n, row] of read.rows.entries()) {
		if (n % ROWS_AT_ONCE === 0) await pause();
		const before = row.address ? (known.get(row.address) ?? null) : null;
		counting?.step();
		problems.push(...(await problemsWith(app, row, before)));
		rows.push({
			line: row.line,
			title: row.title ?? before?.title ?? '',
			address: row.address || before?.address || '',
			does: before ? 'changes' : 'adds'
		});
		if (row.shelf && row.shelf.length > 0 && !shelves.has(row.shelf.join('/')))
			newShelves.add(row.shelf.join(' / '));
		if (row.category && !categories.has(row.category.toLowerCase())) newLabels.add(row.category);
		for (const tag of row.tags ?? []) if (!tags.has(tag.toLowerCase())) newLabels.add(tag);
	}
	const { columns } = read;
	return { ok: true, rows, problems, columns, newShelves: [...newShelves], newLabels: [...newLabels] };
}

/** Writes what `tryTable` found without problems. Shelves and labels that are missing come with it, and not before the yes. */
export async function importTable(
	app: Rehearsing,
	actor: Staff,
	csv: string,
	agreedTo: string | null,
	taken: TakenColumns = {},
	counting?: Counting
): Promise<WroteMany | { kind: 'refused'; code: 'has-problems' }> {
	need(actor, 'library');
	const read = await readCsv(csv, taken);
	const tried = await tryRead(app, read, counting);
	if (!tried.ok || !read.ok || tried.problems.length > 0) return { kind: 'refused', code: 'has-problems' };
	const consent = await consentOf(app, agreedTo);
	const plan = await importPlan(app, consent.mint);
	const changes: ItemChange[] = [];
	counting?.expect(read.rows.length);
	for (const [n, row] of read.rows.entries()) {
		if (n % ROWS_AT_ONCE === 0) await pause();
		const before = row.address ? (plan.known.get(row.address) ?? null) : null;
		changes.push(await changeOf(app, plan, row, before));
		counting?.step();
	}
	const all = [...plan.newShelves, ...changes];
	counting?.expect(all.length);
	keepApart(all);
	const wrote = await writeMany(app, actor, 'imported-item', all, consent, {
		prepare: (work) => makeLabels(work, plan.newLabels),
		onEach: () => counting?.step()
	});
	return wrote.kind === 'saved' ? { kind: 'saved', count: changes.length } : wrote;
}

/** Rows without an address that are called alike. */
function keepApart(changes: readonly ItemChange[]): void {
	const taken = new Set<string>();
	for (const { resource } of changes) {
		const { address } = resource;
		if (address === null) continue;
		let free = address;
		for (let n = 2; taken.has(free); n++) free = `${address}-${n}`;
		taken.add(free);
		resource.address = free;
	}
}

async function readCsv(csv: string, taken: TakenColumns) {
	const read = await cellsOf(csv);
	return read.ok ? readTable(read.cells, taken) : read;
}

async function surroundings(app: Using<'db' | 'rights'>) {
	const policy = await app.rights.policy();
	const ids = [...policy.byAddress.values()].map(({ id }) => id);
	const byId = new Map((await itemsByIds(app.db, ids)).map((item) => [item.id, item]));
	const known = new Map<string, Item>();
	for (const [address, { id }] of policy.byAddress) {
		const item = byId.get(id);
		if (item) known.set(address, item);
	}
	const names = (rows: { id: string; name: string }[]) =>
		new Map(rows.map(({ id, name }) => [name.toLowerCase(), id]));
	/** By their path. */
	const shelves = new Map<string, Place>();
	for (const item of byId.values()) {
		if (item.kind !== 'shelf') continue;
		const above = (
			policy.resources.get(item.id) ? policy.homesOf(policy.resources.get(item.id) as Resource) : []
		)
			.map((id) => byId.get(id)?.title ?? '')
			.reverse();
		shelves.set([...above, item.title].join('/'), item);
	}
	return {
		policy,
		known,
		shelves,
		categories: names(await allCategories(app.db)),
		tags: names(await allTags(app.db))
	};
}

/** As much of a shelf as an address below it needs. */
type Place = Pick<Item, 'id' | 'address' | 'homeId'>;

/** What a table adds beside its rows, with ids that are the same when it is agreed to. */
async function importPlan(app: Using<'db' | 'rights'>, mint: Mint) {
	return {
		...(await surroundings(app)),
		mint,
		newShelves: [] as ItemChange[],
		newLabels: [] as { kind: LabelKind; id: string; name: string }[]
	};
}
type ImportPlan = Awaited<ReturnType<typeof importPlan>>;

async function shelfIn(app: Using<'db'>, plan: ImportPlan, path: readonly string[]): Promise<string | null> {
	let home: Place | null = null;
	for (const [n, name] of path.entries()) {
		const key = path.slice(0, n + 1).join('/');
		const found: Place = plan.shelves.get(key) ?? (await newShelf(app, plan, key, name, home));
		plan.shelves.set(key, found);
		home = found;
	}
	return home?.id ?? null;
}

async function newShelf(
	app: Using<'db'>,
	plan: ImportPlan,
	key: string,
	title: string,
	home: Place | null
): Promise<Place> {
	const id = plan.mint.id(`shelf ${key}`);
	const address = await freeAddress(app.db, 'shelf', title, home);
	const homeId = home?.id ?? null;
	plan.newShelves.push({
		before: null,
		row: { title: title.slice(0, 200) },
		resource: {
			id,
			kind: 'shelf',
			state: 'draft',
			publishAt: null,
			base: 'closed',
			address,
			homeId,
			categoryId: null,
			tagIds: [],
			extension: null
		}
	});
	return { id, address, homeId };
}

function labelIn(plan: ImportPlan, kind: LabelKind, name: string): string {
	const known = kind === 'category' ? plan.categories : plan.tags;
	const found = known.get(name.toLowerCase());
	if (found) return found;
	const id = plan.mint.id(`${kind} ${name.toLowerCase()}`);
	known.set(name.toLowerCase(), id);
	plan.newLabels.push({ kind, id, name });
	return id;
}

async function problemsWith(app: Using<'db'>, row: TableRow, before: Item | null): Promise<ImportProblem[]> {
	const problem = (code: ImportCode, seen: string): ImportProblem => ({
		line: row.line,
		column: null,
		code,
		seen
	});
	const found: ImportProblem[] = [];
	const kind = before?.kind ?? row.kind;
	if (!before && !row.title) found.push(problem('nothing-there', row.address ?? ''));
	if (before && row.kind && row.kind !== before.kind) found.push(problem('another-kind', row.kind));
	// A film or file comes by upload, inbox or store; a table can only describe it.
	if (!before && kind && isBytes(kind)) found.push(problem('needs-file', kind));
	if (!before && kind && NEEDS_HOME.has(kind)) found.push(problem('needs-home', kind));
	if (kind && row.shelf && row.shelf.length > 0 && !canLiveIn(kind, 'shelf'))
		found.push(problem('wrong-home', kind));
	if (!before && row.address) {
		const normal = normalisePath(row.address);
		if (!normal.ok || !isFree(normal.path)) found.push(problem('reserved-address', row.address));
	}
	if (row.target && !isLink(row.target)) found.push(problem('bad-target', row.target));
	if (row.target && kind !== 'link') found.push(problem('no-link', row.target));
	if (before && row.state === 'published' && isBytes(before.kind)) {
		const asset = await assetOfItem(app.db, before.id);
		if (asset?.state !== 'ready' && !asset?.stream) found.push(problem('not-ready', before.title));
	}
	return found;
}

async function changeOf(
	app: Using<'db'>,
	plan: ImportPlan,
	row: TableRow,
	before: Item | null
): Promise<ItemChange> {
	const known = before ? plan.policy.resources.get(before.id) : undefined;
	const kind = before?.kind ?? row.kind ?? 'page';
	const homeId = row.shelf === undefined ? (before?.homeId ?? null) : await shelfIn(app, plan, row.shelf);
	const categoryId =
		row.category === undefined
			? (known?.categoryId ?? null)
			: row.category === ''
				? null
				: labelIn(plan, 'category', row.category);
	const tagIds = (row.tags ?? []).map((tag) => labelIn(plan, 'tag', tag));
	const normal = row.address ? normalisePath(row.address) : null;
	const address =
		before?.address ?? (normal?.ok ? normal.path : await freeAddress(app.db, kind, row.title ?? kind, null));
	const beginsOpen = ['page', 'course', 'show', 'shelf'].includes(kind);
	return {
		before,
		row: {
			...(row.title === undefined ? {} : { title: row.title }),
			...(row.description === undefined ? {} : { description: row.description, body: null }),
			...(row.position === undefined ? {} : { position: row.position }),
			...(row.target === undefined ? {} : { target: row.target || null })
		},
		resource: {
			id: before?.id ?? plan.mint.id(`row ${row.line}`),
			kind,
			state: row.state ?? known?.state ?? 'draft',
			publishAt: known?.publishAt ?? null,
			base: row.base ?? known?.base ?? (beginsOpen ? 'open' : 'closed'),
			address,
			homeId,
			categoryId,
			tagIds: row.tags === undefined ? (known?.tagIds ?? []) : tagIds,
			extension: known?.extension ?? null
		}
	};
}
