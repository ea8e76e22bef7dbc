/** Shelves for the folders that files come in. */
import { and, eq, isNull } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { canLiveIn } from '$core/library/homes';
import type { Actor } from '../../app';
import { insertItems, itemById, selectItems, titles, type Item, type NewItem } from '../../db/queries/items';
import { lockSite } from '../../db/queries/settings';
import { items } from '../../db/schema/library';
import { transact, type Work, type Transacting } from '../../transact';
import { arrange, lockHome } from './arrange';
import { freeAddress } from './edit-item';

/** Deeper folders end up on the last shelf. */
const DEEPEST = 8;

/**
 * The shelf for a folder such as `wheels/tables`, within `homeId` if one is given: shelves that are there are used, those
 * that are missing are made. `null`: the file lies in no folder.
 */
export async function shelfOf(
	app: Transacting,
	actor: Actor,
	homeId: string | null,
	folder: string
): Promise<string | null> {
	const names = folder
		.split(/[/\\]/)
		.map((name) => name.normalize('NFC').trim())
		.filter((name) => name !== '' && !/^\.+$/.test(name))
		.slice(0, DEEPEST);
	if (names.length === 0) return homeId;
	return transact(app, actor, async (work) => {
		const home = homeId === null ? null : await itemById(work.tx, homeId);
		if (home && !canLiveIn('shelf', home.kind)) return home.id;
		const known = await walk(names, home, (name, within) => knownShelf(work, name, within));
		if (known) return known.id;
		// Shelves are made one after the other: whoever waited here finds what was made meanwhile.
		await lockSite(work.tx);
		const made = await walk(
			names,
			home,
			async (name, within) => (await knownShelf(work, name, within)) ?? (await makeShelf(work, name, within))
		);
		return made?.id ?? null;
	});
}

/** From shelf to shelf; `null` where one of them is not there. */
async function walk(
	names: readonly string[],
	from: Item | null,
	step: (name: string, home: Item | null) => Promise<Item | null>
): Promise<Item | null> {
	let home = from;
	for (const name of names) {
		home = await step(name, home);
		if (home === null) return null;
	}
	return home;
}

async function knownShelf({ tx }: Work, title: string, home: Item | null): Promise<Item | null> {
	const [row] = await selectItems(tx)
		.where(
			and(
				eq(items.kind, 'shelf'),
				eq(titles.plain, title.slice(0, 200)),
				home ? eq(items.homeId, home.id) : isNull(items.homeId)
			)
		)
		.limit(1);
	return row ?? null;
}

async function makeShelf(work: Work, title: string, home: Item | null): Promise<Item | null> {
	const { tx, now } = work;
	const id = uuidv7();
	const shelf: NewItem = {
		id,
		kind: 'shelf',
		title: title.slice(0, 200),
		address: await freeAddress(tx, 'shelf', title, home),
		state: 'draft',
		base: 'closed',
		homeId: home?.id ?? null,
		createdAt: now
	};
	await lockHome(work, home?.id ?? null);
	await insertItems(tx, [shelf]);
	if (home) await arrange(work, home.id, id);
	await work.note({ action: 'created-item', subject: { kind: 'item', id }, after: { kind: 'shelf', title } });
	work.policyChanged('shelf made', { resources: [id] });
	return itemById(tx, id);
}
