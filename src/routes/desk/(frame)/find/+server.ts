import { json } from '@sveltejs/kit';
import { FIND_KINDS, findAnything, type Found } from '$server/db/queries/find';
import { deskNames } from '$server/http/names';
import { answerPair } from '$server/usecases/access/check';
import { placeName } from '$ui/names';
import { VERDICT_WORDS } from '$ui/wording/decision';
import { formatMoment } from '$ui/wording/time';
import type { RequestHandler } from './$types';

/** Finds by a part of a name; a member and an item together are answered: may they open it? */
export const GET: RequestHandler = async ({ locals: { app }, url }) => {
	const text = (url.searchParams.get('q') ?? '').slice(0, 100);
	const asked = url.searchParams.get('kinds')?.split(',');
	if (asked)
		return json(
			await withPlaces(
				app,
				await findAnything(
					app.db,
					text,
					FIND_KINDS.filter((kind) => asked.includes(kind))
				)
			)
		);
	return json([...(await answers(app, text)), ...(await findAnything(app.db, text))]);
};

/** Sections of many courses are called alike: what has no address of its own is told apart by where it lives. */
async function withPlaces(app: App.Locals['app'], found: readonly Found[]): Promise<Found[]> {
	const { resources } = await deskNames(app);
	return found.map((one) =>
		one.homeId && one.detail === '' ? { ...one, detail: placeName(resources, one.id) } : one
	);
}

async function answers(app: App.Locals['app'], text: string): Promise<Found[]> {
	const pair = await answerPair(app, text);
	if (!pair) return [];
	const { member, item, explained } = pair;
	const { zone } = await app.site();
	const { verdict, until } = explained.decision;
	return [
		{
			id: `answer-${member.id}-${item.id}`,
			kind: VERDICT_WORDS[verdict],
			label: `${member.name}: ${item.title}`,
			detail: until === null ? 'see why' : `until ${formatMoment(until, zone)}`,
			href: `/desk/check?member=${member.id}&item=${item.id}`
		}
	];
}
