/**
 * The Library as rows, as it is looked for, ordered and unfolded: laid out in memory, and told in windows of so many rows.
 * Titles and addresses are found with one wrong letter; texts by what they hold.
 */
import type { ItemState, ResourceKind } from '$core/access/model';
import type { Policy } from '$core/access/policy';
import { whoGetsIn } from '$core/access/who';
import type { RowsWindow } from '$core/library/row-view';
import { libraryRows, type Row, type RowOrder } from '$core/library/rows';
import { finder, plainText } from '$core/text/finding';
import type { Using } from '../../app';
import { itemsFound, progressOf, type LibraryItem } from '../../db/queries/library';
import { shownCategories, shownRows, shownTags } from '../../rights/shown';

interface Library {
	all: LibraryItem[];
	byId: Map<string, LibraryItem>;
}

export interface LibraryAsk {
	search: string;
	kind: ResourceKind | null;
	state: ItemState | null;
	categoryId: string | null;
	tagId: string | null;
	/** Only what lives right in it. */
	homeId: string | null;
	/** Only what no fence meets. */
	isUnfenced: boolean;
	order: RowOrder;
	isDescending: boolean;
	unfolded: ReadonlySet<string>;
}

/** A text of fewer letters is in nearly every text. */
const LETTERS_FOR_TEXTS = 3;

/** Everything that is looked for, in order. */
async function laidOut(
	app: Using<'db' | 'rights'>,
	ask: LibraryAsk
): Promise<{ library: Library; rows: Row[] }> {
	const library = await libraryOf(app);
	const policy = await app.rights.policy();
	const searched = ask.search === '' ? null : await searchedFor(app, ask.search);
	const isFound = narrowing(policy, ask, searched);
	// What is archived stands apart.
	const shown = library.all.filter(({ state }) => (state === 'archived') === (ask.state === 'archived'));
	const rows = libraryRows(shown, {
		...ask,
		isFound:
			isFound &&
			((id) => {
				const item = library.byId.get(id);
				return item !== undefined && isFound(item);
			})
	});
	return { library, rows };
}

/** The rows from one on; `found` counts what was looked for, without the homes that lead to it. */
export async function libraryWindow(
	app: Using<'clock' | 'db' | 'rights'>,
	ask: LibraryAsk,
	from: number,
	count: number
): Promise<RowsWindow> {
	const { library, rows } = await laidOut(app, ask);
	const policy = await app.rights.policy();
	const now = app.clock.business();
	const told = rows.slice(from, from + count).flatMap((row) => {
		const item = library.byId.get(row.id);
		return item ? [{ row, item }] : [];
	});
	const busy = told.flatMap(({ item }) => (isBusy(item) && item.assetId ? [item.assetId] : []));
	const progress = await progressOf(app.db, busy);
	return {
		rows: told.map(({ row, item }) => ({
			...row,
			title: item.title,
			kind: item.kind,
			state: item.state,
			publishAt: item.publishAt,
			assetState: item.assetState,
			progress: isBusy(item) ? (progress.get(item.assetId ?? '') ?? 0) : null,
			seconds: item.seconds,
			changedAt: item.changedAt,
			hasPicture: item.hasPicture,
			home: item.homeId === null ? null : (library.byId.get(item.homeId)?.title ?? null),
			who:
				item.state === 'published' && policy.resources.has(item.id) ? whoGetsIn(policy, item.id, now) : null
		})),
		total: rows.length,
		found: rows.filter(({ isFound }) => isFound).length,
		things: library.all.filter(({ state }) => state !== 'archived').length,
		drafts: library.all.filter(({ state }) => state === 'draft').length
	};
}

/** Ids of the rows from one to another, both included, in order: what is chosen at once. */
export async function libraryIds(
	app: Using<'db' | 'rights'>,
	ask: LibraryAsk,
	from: number,
	to: number
): Promise<string[]> {
	const { rows } = await laidOut(app, ask);
	return rows.slice(from, to + 1).flatMap(({ id, isFound }) => (isFound ? [id] : []));
}

/** What things may be filed under. */
export async function libraryLabels(app: Using<'db' | 'rights'>) {
	return { categories: await shownCategories(app), tags: await shownTags(app) };
}

function libraryOf(app: Using<'db' | 'rights'>): Promise<Library> {
	return app.rights.content('library-rows', async () => {
		const all = await shownRows(app);
		return { all, byId: new Map(all.map((item) => [item.id, item])) };
	});
}

/** What each is found by, made when something is looked for first. */
function plainTexts(app: Using<'db' | 'rights'>): Promise<[string, string][]> {
	return app.rights.content('library-plain', async () =>
		(await shownRows(app)).map(({ id, title, address }) => [id, plainText(`${title} ${address ?? ''}`)])
	);
}

/** Ids of what is called like that, or stands at such an address. */
export async function titlesFound(app: Using<'db' | 'rights'>, search: string): Promise<Set<string>> {
	const isFound = finder(search);
	return new Set((await plainTexts(app)).flatMap(([id, plain]) => (isFound(plain) ? [id] : [])));
}

async function searchedFor(app: Using<'db' | 'rights'>, search: string): Promise<ReadonlySet<string>> {
	const found = await titlesFound(app, search);
	if (search.length < LETTERS_FOR_TEXTS) return found;
	for (const id of await itemsFound(app.db, search)) found.add(id);
	return found;
}

/** Whether something is looked for; `null` where everything is. */
function narrowing(
	policy: Policy,
	{ kind, state, categoryId, tagId, homeId, isUnfenced }: LibraryAsk,
	searched: ReadonlySet<string> | null
): ((item: LibraryItem) => boolean) | null {
	const wanted: ((item: LibraryItem) => boolean)[] = [];
	if (searched) wanted.push(({ id }) => searched.has(id));
	if (kind) wanted.push((item) => item.kind === kind);
	if (state && state !== 'archived') wanted.push((item) => item.state === state);
	if (categoryId) wanted.push((item) => item.categoryId === categoryId);
	if (tagId) wanted.push(({ id }) => policy.resources.get(id)?.tagIds.includes(tagId) ?? false);
	if (homeId) wanted.push((item) => item.homeId === homeId);
	if (isUnfenced) wanted.push(({ id }) => !isMet(policy, id));
	return wanted.length === 0 ? null : (item) => wanted.every((is) => is(item));
}

function isMet(policy: Policy, id: string): boolean {
	const resource = policy.resources.get(id);
	return resource !== undefined && policy.passage(resource).met.length > 0;
}

function isBusy({ assetState }: LibraryItem): boolean {
	return assetState === 'waiting' || assetState === 'preparing';
}
