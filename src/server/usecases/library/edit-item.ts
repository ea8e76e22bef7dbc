import { randomBytes } from 'node:crypto';
import { and, eq } from 'drizzle-orm';
import { isFree, isReserved, normalisePath, slugOf } from '$core/access/address';
import type { ItemState, PolicySource, Resource, ResourceKind } from '$core/access/model';
import { fromPlain, identified, isEmptyText, type RichText, toPlain } from '$core/text/rich-text';
import type { Policy } from '$core/access/policy';
import { ADDRESS_ROOTS, homeProblem, isBytes, type HomeProblem } from '$core/library/homes';
import type { Actor } from '../../app';
import { DONE, notDone, type Done } from '../../done';
import { isTakenAddress, type Handle } from '../../db/connect';
import { assetOfItem, comingOf, isAddressTaken, tagsOfItem } from '../../db/queries/library';
import { insertItems, itemById, lockItem, updateItem, type Item } from '../../db/queries/items';
import { assets, categories, itemTags, tags } from '../../db/schema/library';
import { ChangedMeanwhile, expectRevision, revisionOf } from '../../revision';
import { transact, type Work, type Transacting } from '../../transact';
import { consentOf, saveRehearsed, type KeptRehearsal, type Rehearsing } from '../access/rehearsed-save';
import { arrange, lockHome } from './arrange';
import { queuePreparation } from './queue-preparation';
import { need, type Staff } from '../../people/need';

/** As the database takes it. */
const MAX_ADDRESS_LENGTH = 700;
const ROOM_FOR_NUMBER = 10;
const ADDRESS_TRIES = 6;

export interface ItemWish {
	kind: ResourceKind;
	title: string;
	text: RichText;
	/** Empty: made from the title. */
	address: string;
	homeId: string | null;
	/** Of a new one: which of those that live there it comes after; `null`: it is the first; left out: the last. */
	after?: string | null;
	categoryId: string | null;
	tagIds: string[];
	base: 'open' | 'closed';
	extension: string | null;
	target: string | null;
	showsPoster: boolean;
	/** Of a link: whether it is shown in the page, in a frame. Left out: as it is. */
	opensInBrowser?: boolean;
}

export type ItemProblem =
	'unknown' | 'bad-address' | 'reserved-address' | 'taken-address' | HomeProblem | 'unknown-label';

export type Edited =
	| { kind: 'saved'; itemId: string }
	| { kind: 'rehearsed'; rehearsal: KeptRehearsal }
	/** Somebody else saved it since it was opened. */
	| { kind: 'changed'; theirs: Item; revision: string }
	| { kind: 'refused'; code: ItemProblem };

/** Makes an item or a collection as a draft. */
export async function createItem(app: Rehearsing, actor: Staff, wish: ItemWish): Promise<Edited> {
	need(actor, 'library');
	for (let attempt = 1; ; attempt++) {
		const made = await write(app, actor, null, wish, null);
		// Somebody was faster with an address that nobody typed: the next one will do.
		const isTaken = made.kind === 'refused' && made.code === 'taken-address' && wish.address === '';
		if (!isTaken || attempt === ADDRESS_TRIES) return made;
	}
}

export async function editItem(
	app: Rehearsing,
	actor: Staff,
	itemId: string,
	wish: ItemWish,
	agreedTo: string | null = null,
	revision: string | null = null
): Promise<Edited> {
	need(actor, 'library');
	const before = await itemById(app.db, itemId);
	return before ? write(app, actor, before, wish, agreedTo, revision) : { kind: 'refused', code: 'unknown' };
}

async function write(
	app: Rehearsing,
	actor: Actor,
	before: Item | null,
	wish: ItemWish,
	agreedTo: string | null,
	revision: string | null = null
): Promise<Edited> {
	const consent = await consentOf(app, agreedTo);
	const id = before?.id ?? consent.mint.id('item');
	const policy = await app.rights.policy();
	const checked = await check(app.db, policy, id, wish);
	if (!checked.ok) return { kind: 'refused', code: checked.code };
	const { title, text, homeId, categoryId, base, extension, target, showsPoster } = wish;
	const row = {
		title,
		...writtenText(text),
		homeId,
		categoryId,
		base,
		extension,
		target,
		showsPoster,
		address: checked.address,
		...(wish.opensInBrowser === undefined ? {} : { opensInBrowser: wish.opensInBrowser })
	};
	const resource: Resource = {
		id,
		kind: wish.kind,
		state: before?.state ?? 'draft',
		publishAt: before?.publishAt ?? null,
		base,
		...siteOf(policy, id),
		address: checked.address,
		homeId,
		categoryId,
		tagIds: wish.tagIds,
		extension
	};
	const isPlaced = homeId !== null && homeId !== before?.homeId;
	const saving = saveRehearsed(app, actor, consent, withResource(resource), async (work) => {
		if (isPlaced) await lockHome(work, homeId);
		if (before) {
			const now = await lockItem(work.tx, id);
			if (now) expectRevision(revision, editable(now, await tagsOfItem(work.tx, id)));
			await updateItem(work.tx, resource, row, work.now);
		} else await insertItems(work.tx, [{ ...row, id, kind: wish.kind, state: 'draft', createdAt: work.now }]);
		if (isPlaced) await arrange(work, homeId, id, before ? undefined : wish.after);
		await setTags(work, id, wish.tagIds);
		const action = before ? 'edited-item' : 'created-item';
		await work.note({
			action,
			subject: { kind: 'item', id },
			before,
			after: { ...row, tagIds: wish.tagIds }
		});
		work.policyChanged('item edited', { resources: [id] });
	});
	const saved = await saving.catch((error: unknown) => {
		// It was free when it was looked at.
		if (isTakenAddress(error)) return null;
		if (error instanceof ChangedMeanwhile) return { kind: 'changed' as const };
		throw error;
	});
	if (saved?.kind === 'changed') {
		const theirs = await itemById(app.db, id);
		if (!theirs) return { kind: 'refused', code: 'unknown' };
		return { kind: 'changed', theirs, revision: itemRevision(theirs, await tagsOfItem(app.db, id)) };
	}
	if (saved === null) return { kind: 'refused', code: 'taken-address' };
	return saved.kind === 'rehearsed' ? saved : { kind: 'saved', itemId: id };
}

export function itemRevision(item: Item, tagIds: readonly string[]): string {
	return revisionOf(editable(item, tagIds));
}

/** What of an item two editors could change in one form. */
function editable(item: Item, tagIds: readonly string[]) {
	const { title, homeId, categoryId, base, extension, target, showsPoster, address } = item;
	const { opensInBrowser } = item;
	return {
		title,
		text: textOf(item),
		homeId,
		categoryId,
		base,
		extension,
		target,
		showsPoster,
		address,
		opensInBrowser,
		tagIds: [...tagIds].sort()
	};
}

/** A text as it is laid out, and as it is found by. */
function writtenText(text: RichText): { description: string; body: RichText } {
	// An editor that was emptied still sends a paragraph.
	return isEmptyText(text)
		? { description: '', body: [] }
		: { description: toPlain(text, () => ''), body: identified(text, () => randomBytes(6).toString('hex')) };
}

/** What is shown; a table describes without form. */
export function textOf({ description, body }: Pick<Item, 'description' | 'body'>): RichText {
	return body ?? fromPlain(description);
}

export function withResource(resource: Resource): (source: PolicySource) => PolicySource {
	return (source) => ({
		...source,
		resources: source.resources.some(({ id }) => id === resource.id)
			? source.resources.map((one) => (one.id === resource.id ? resource : one))
			: [...source.resources, resource]
	});
}

async function check(
	db: Handle,
	policy: Policy,
	id: string,
	wish: ItemWish
): Promise<{ ok: true; address: string | null } | { ok: false; code: ItemProblem }> {
	const home = wish.homeId === null ? null : await itemById(db, wish.homeId);
	const { resources } = policy;
	const problem = homeProblem(
		{ id, kind: wish.kind, homeId: home?.id ?? wish.homeId },
		(at) => resources.get(at) ?? null
	);
	if (problem) return { ok: false, code: problem };
	if (!(await areLabels(db, wish))) return { ok: false, code: 'unknown-label' };
	if (wish.kind === 'section') return { ok: true, address: null };
	if (wish.address === '') return { ok: true, address: await freeAddress(db, wish.kind, wish.title, home) };
	const normal = normalisePath(wish.address);
	if (!normal.ok || normal.path === '/' || normal.path.length > MAX_ADDRESS_LENGTH)
		return { ok: false, code: 'bad-address' };
	if (isReserved(normal.path) || !isFree(normal.path)) return { ok: false, code: 'reserved-address' };
	if (await isAddressTaken(db, normal.path, id)) return { ok: false, code: 'taken-address' };
	return { ok: true, address: normal.path };
}

async function areLabels(db: Handle, { categoryId, tagIds }: ItemWish): Promise<boolean> {
	if (categoryId !== null) {
		const [row] = await db
			.select({ id: categories.id })
			.from(categories)
			.where(eq(categories.id, categoryId));
		if (!row) return false;
	}
	const known = new Set((await db.select({ id: tags.id }).from(tags)).map((row) => row.id));
	return tagIds.every((tagId) => known.has(tagId));
}

/** A first address: below the nearest home's that has one (a section has none, its course has), else below the kind's. */
export async function freeAddress(
	db: Handle,
	kind: ResourceKind,
	title: string,
	home: Pick<Item, 'address' | 'homeId'> | null
): Promise<string> {
	let near = home;
	while (near && near.address === null) near = near.homeId === null ? null : await itemById(db, near.homeId);
	const word = encodeURIComponent(slugOf(title) || kind);
	const below = near?.address ?? ADDRESS_ROOTS[kind];
	// Deep below long names there is no room: then it stands below its kind.
	const root =
		below.length + word.length < MAX_ADDRESS_LENGTH - ROOM_FOR_NUMBER ? below : ADDRESS_ROOTS[kind];
	const wish = `${root}/${word}`;
	for (let n = 1; ; n++) {
		const address = n === 1 ? wish : `${wish}-${n}`;
		if (isFree(address) && !(await isAddressTaken(db, address, null))) return address;
	}
}

export async function setTags({ tx }: Work, itemId: string, tagIds: readonly string[]): Promise<void> {
	await tx.delete(itemTags).where(eq(itemTags.itemId, itemId));
	if (tagIds.length > 0)
		await tx.insert(itemTags).values([...new Set(tagIds)].map((tagId) => ({ itemId, tagId })));
}

export type StateMoved =
	| { kind: 'saved' }
	| { kind: 'rehearsed'; rehearsal: KeptRehearsal }
	| { kind: 'refused'; code: 'unknown' | 'not-ready' };

/** Publishes, plans to publish, takes back to a draft, archives. Only what is prepared can be published. */
export async function setState(
	app: Rehearsing,
	actor: Staff,
	itemId: string,
	wish: { state: ItemState; publishAt: number | null },
	agreedTo: string | null = null
): Promise<StateMoved> {
	need(actor, 'library');
	const before = await itemById(app.db, itemId);
	if (!before) return { kind: 'refused', code: 'unknown' };
	const asset = await assetOfItem(app.db, itemId);
	const isShowing = wish.state === 'published' || wish.state === 'scheduled';
	if (isShowing && isBytes(before.kind) && asset?.state !== 'ready' && !asset?.stream)
		return { kind: 'refused', code: 'not-ready' };
	const { kind, base, address, homeId, categoryId, extension } = before;
	const tagIds = await tagsOfItem(app.db, itemId);
	const publishAt = wish.state === 'scheduled' ? wish.publishAt : null;
	const after: Resource = {
		id: itemId,
		kind,
		base,
		...siteOf(await app.rights.policy(), itemId),
		address,
		homeId,
		categoryId,
		extension,
		tagIds,
		state: wish.state,
		publishAt
	};
	const consent = await consentOf(app, agreedTo);
	const saved = await saveRehearsed(app, actor, consent, withResource(after), async (work) => {
		await updateItem(work.tx, after, { state: wish.state, publishAt }, work.now);
		await work.note({
			action: `item-${wish.state}`,
			subject: { kind: 'item', id: itemId },
			before: before.state,
			after: { state: wish.state, publishAt }
		});
		work.policyChanged('item state', { resources: [itemId] });
	});
	return saved.kind === 'rehearsed' ? saved : { kind: 'saved' };
}

/** Runs a failed preparation again. */
export async function prepareAgain(
	app: Transacting,
	actor: Staff,
	itemId: string
): Promise<Done<'not-failed'>> {
	need(actor, 'library');
	return transact(app, actor, async (work) => {
		const asset = (await comingOf(work.tx, itemId)) ?? (await assetOfItem(work.tx, itemId));
		if (asset?.state !== 'failed') return notDone('not-failed');
		await work.tx
			.update(assets)
			.set({ state: 'waiting', problem: null })
			.where(and(eq(assets.id, asset.id), eq(assets.state, 'failed')));
		await queuePreparation(work, asset.id);
		await work.note({ action: 'prepared-again', subject: { kind: 'asset', id: asset.id } });
		return DONE;
	});
}

/** The outside site that an item is on; nothing for Stile's own. */
function siteOf({ resources }: Policy, id: string): Pick<Resource, 'siteId'> {
	const siteId = resources.get(id)?.siteId;
	return siteId === undefined ? {} : { siteId };
}
