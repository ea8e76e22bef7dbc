import { json } from '@sveltejs/kit';
import { mayAny, mayAt, NO_PERMISSIONS, type Permission } from '$core/staff/permissions';
import { ANYTHING, FIND_KINDS, findByName, type FindKind, type Found } from '$server/reads/desk/find';
import { deskNames } from '$server/reads/desk/names';
import { answerPair } from '$server/reads/desk/check';
import { placeName } from '$ui/names';
import { VERDICT_WORDS } from '$ui/wording/decision';
import { formatMoment } from '$ui/wording/time';
import type { RequestHandler } from './$types';

/** Finds by a part of a name; a member and an item together are answered: may they open it? */
export const GET: RequestHandler = async ({ locals: { app, viewer }, url }) => {
	const text = (url.searchParams.get('q') ?? '').slice(0, 100);
	const asked = url.searchParams.get('kinds')?.split(',');
	const held = viewer?.permissions ?? NO_PERMISSIONS;
	// What a name leads to, somebody has to be able to open; whoever picks something for a fence may look for items.
	const kinds = FIND_KINDS.filter((kind) => mayAny(held, NEEDED[kind] ?? PLACES));
	const wanted = kinds.filter((kind) => (asked ? asked.includes(kind) : ANYTHING.includes(kind)));
	const found = await withPlaces(app, await findByName(app, text, wanted));
	const mayCheck = !asked && held.has('members') && mayAt(held, '/desk/check');
	return json(mayCheck ? [...(await answers(app, text)), ...found] : found);
};

const PLACES: readonly Permission[] = ['library', 'fences', 'releases', 'members'];
const NEEDED: Partial<Record<FindKind, readonly Permission[]>> = {
	member: ['members'],
	plan: ['plans'],
	code: ['codes'],
	label: ['members'],
	fence: ['fences'],
	order: ['sales']
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
