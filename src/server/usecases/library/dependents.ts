/** What depends on an item: looked at before it is taken away. */
import { and, eq, like, ne } from 'drizzle-orm';
import { normalisePath } from '$core/access/address';
import type { Answer, TurnAway } from '$core/access/model';
import { isBytes } from '$core/library/homes';
import { linksOf } from '$core/text/rich-text';
import type { Using } from '../../app';
import { ofTitle, titles, type Item } from '../../db/queries/items';
import { assetOfItem, itemsShowing } from '../../db/queries/library';
import { items, itemTexts } from '../../db/schema/library';

export interface Dependents {
	/** What lives in it. */
	inside: { id: string; title: string }[];
	/** Lessons and pages that show what it shows. */
	shows: { id: string; title: string }[];
	/** Fences that name it, close what is in it, or follow its rules. */
	fences: { id: string; name: string }[];
	/** Plans that have a release of it. */
	releases: string[];
	/** Pages and other items whose text links to it. */
	links: { id: string; title: string }[];
	/** Fences whose turn-away leads to it; `null` stands for the site's own. */
	sends: { id: string | null; name: string }[];
}

const SHOWN = 50;

export async function dependentsOf(
	app: Using<'db' | 'rights' | 'settings'>,
	item: Item
): Promise<Dependents> {
	const { source } = await app.rights.policy();
	const title = { id: items.id, title: titles.plain };
	const inside = await app.db
		.select(title)
		.from(items)
		.innerJoin(titles, ofTitle)
		.where(eq(items.homeId, item.id))
		.limit(SHOWN);
	const links = await linking(app, item);
	const named = (fence: { id: string; name: string }) => ({ id: fence.id, name: fence.name });
	const leads = (turnAway: TurnAway | null) =>
		turnAway !== null &&
		[turnAway.answer, ...Object.values(turnAway.cases)].some((answer) =>
			leadsTo(answer, item.address, app.settings.origin)
		);
	const asset = isBytes(item.kind) ? await assetOfItem(app.db, item.id) : null;
	const shows = asset === null ? [] : await itemsShowing(app.db, asset.id, item.id);
	return {
		inside,
		shows,
		links,
		fences: source.fences
			.filter(
				({ selector, crossings }) =>
					(selector.kind === 'items' && selector.itemIds.includes(item.id)) ||
					(selector.kind === 'within' && selector.collectionId === item.id) ||
					crossings.some(({ audience }) => audience.kind === 'may-open' && audience.resourceId === item.id)
			)
			.map(named),
		releases: [
			...new Set(
				source.releases
					.filter(({ target }) => target.kind === 'resource' && target.id === item.id)
					.map(({ planId }) => planId)
			)
		],
		sends: [
			...source.fences.filter(({ turnAway }) => leads(turnAway)).map(named),
			...(leads(source.turnAway) ? [{ id: null, name: 'Settings' }] : [])
		]
	};
}

/** Items whose text has a link to it. */
async function linking(
	app: Using<'db' | 'settings'>,
	{ id, address }: Item
): Promise<{ id: string; title: string }[]> {
	if (address === null) return [];
	const found = await app.db
		.select({ id: items.id, title: titles.plain, body: itemTexts.blocks })
		.from(items)
		.innerJoin(titles, ofTitle)
		.innerJoin(itemTexts, eq(itemTexts.itemId, items.id))
		.where(and(like(itemTexts.blocks, '%"href":%'), ne(items.id, id)));
	return found
		.filter(({ body }) => linksOf(body ?? []).some((href) => pathOf(href, app.settings.origin) === address))
		.slice(0, SHOWN)
		.map(({ id, title }) => ({ id, title }));
}

/** Where a link leads on this site; `null`: elsewhere. */
function pathOf(href: string, origin: string): string | null {
	const path = href.startsWith(`${origin}/`) ? href.slice(origin.length) : href;
	if (!path.startsWith('/')) return null;
	const normal = normalisePath(path.split(/[?#]/, 1)[0] ?? '');
	return normal.ok ? normal.path : null;
}

function leadsTo(answer: Answer, address: string | null, origin: string): boolean {
	if (address === null) return false;
	const leads = answer.kind === 'sent' ? [answer.to] : answer.kind === 'notice' ? linksOf(answer.text) : [];
	return leads.some((href) => pathOf(href, origin) === address);
}
