/** What depends on an item: looked at before it is taken away. */
import { and, eq, like, ne } from 'drizzle-orm';
import type { Answer, TurnAway } from '$core/access/model';
import type { App } from '../../app';
import { containing, type Item } from '../../db/queries/library';
import { items } from '../../db/schema/library';

export interface Dependents {
	/** What lives in it. */
	inside: { id: string; title: string }[];
	/** Fences that name it, close what is in it, or follow its rules. */
	fences: { id: string; name: string }[];
	/** Plans that have a release of it. */
	releases: string[];
	/** Pages and other items whose text links to it. */
	links: { id: string; title: string }[];
	/** Fences that send those who are turned away to it; `null` stands for the site's own. */
	sends: { id: string | null; name: string }[];
}

const SHOWN = 50;

export async function dependentsOf(app: App, item: Item): Promise<Dependents> {
	const { source } = await app.rights.policy();
	const title = { id: items.id, title: items.title };
	const inside = await app.db.select(title).from(items).where(eq(items.homeId, item.id)).limit(SHOWN);
	const links =
		item.address === null
			? []
			: await app.db
					.select(title)
					.from(items)
					.where(and(like(items.description, containing(item.address)), ne(items.id, item.id)))
					.limit(SHOWN);
	const named = (fence: { id: string; name: string }) => ({ id: fence.id, name: fence.name });
	const leads = (turnAway: TurnAway | null) =>
		turnAway !== null &&
		[turnAway.answer, ...Object.values(turnAway.cases)].some((answer) => leadsTo(answer, item.address));
	return {
		inside,
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

function leadsTo(answer: Answer, address: string | null): boolean {
	return answer.kind === 'sent' && address !== null && answer.to.split('?')[0] === address;
}
