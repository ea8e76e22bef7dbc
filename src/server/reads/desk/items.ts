/** One item with what it shows and who gets in. */
import { decide } from '$core/access/decide/decide';
import { STRANGER } from '$core/access/model';
import { newcomer } from '$core/access/newcomers';
import { strangerFinds } from '$core/access/stranger';
import { timeline } from '$core/access/timeline';
import type { Using } from '../../app';
import { itemById } from '../../db/queries/items';
import {
	allWays,
	assetOfItem,
	captionsOfAsset,
	hasPicture,
	comingOf,
	preparationOf,
	tagsOfItem,
	versionsOfItem
} from '../../db/queries/library';
import { asOf } from './as-of';
import { shownPlans } from '../../rights/shown';
import { labelNames } from './members';

/** `null`: there is none. */
export async function itemPage(app: Using<'clock' | 'db' | 'rights'>, id: string, url: URL) {
	const item = await itemById(app.db, id);
	if (!item) return null;
	const asset = await assetOfItem(app.db, item.id);
	const coming = await comingOf(app.db, item.id);
	const { moment, policy } = await asOf(app, url);
	const resource = policy.resources.get(item.id);
	/** What is a draft is shown as it will be. */
	const asPublished =
		resource && resource.state !== 'published'
			? policy.with([
					{
						kind: 'resource',
						id: item.id,
						before: resource,
						after: { ...resource, state: 'published', publishAt: null }
					}
				])
			: policy;
	const passage = resource ? policy.passage(resource) : null;
	const offered = await shownPlans(app);
	const sold = offered.find((plan) => plan.soleItemId === item.id) ?? null;
	/** Labels, and what sells something else alone: there may be many. */
	const apart = new Set([
		...(await labelNames(app)).map((label) => label.id),
		...offered.flatMap(({ id, soleItemId }) => (soleItemId === null ? [] : [id]))
	]);
	const viewers = [
		{ planId: null, viewer: STRANGER },
		...[...policy.plans.keys()]
			.filter((planId) => !apart.has(planId) || passage?.ways.some(({ plans }) => plans?.has(planId)))
			.map((planId) => ({ planId, viewer: newcomer(planId, moment.now) }))
	];
	const marks = viewers.flatMap(({ viewer }) =>
		timeline(asPublished, viewer, item.id, moment.from, moment.to, moment.assume).map(({ start }) => start)
	);
	return {
		item,
		moment,
		marks: [...new Set(marks)],
		tagIds: await tagsOfItem(app.db, item.id),
		asset: asset && {
			kind: asset.kind,
			mediaType: asset.mediaType,
			facts: asset.facts,
			/** Whether something prepared is there, though it may be prepared anew. */
			isShown: asset.stream !== null,
			fileName: asset.fileName,
			bytes: asset.bytes,
			seconds: asset.seconds,
			width: asset.width,
			height: asset.height,
			hasSound: asset.hasSound,
			state: asset.state,
			problem: asset.problem,
			progress: await progressOf(app, asset.id),
			pictures:
				asset.stream?.variants.filter((v) => v.kind === 'video').map((v) => `${v.width} × ${v.height}`) ?? []
		},
		coming: coming && {
			fileName: coming.fileName,
			state: coming.state,
			problem: coming.problem,
			waitsForYes: coming.kind === 'file' || coming.stream !== null,
			progress: await progressOf(app, coming.id)
		},
		sold: sold && {
			...{ planId: sold.id, slug: sold.slug, terms: sold.price.terms, access: sold.access },
			isOnSale: sold.isOnSale
		},
		fences: passage && {
			met: passage.met.map((fence) => fence.id),
			off: passage.off.map((fence) => fence.id),
			beyond: passage.beyond.map(({ fence }) => fence.id)
		},
		stranger: strangerFinds(await app.rights.policy(), item.id, app.clock.business()),
		found: viewers.map(({ planId, viewer }) => {
			const { verdict } = decide(asPublished, viewer, item.id, moment.at);
			return { planId, verdict };
		})
	};
}

async function progressOf(app: Using<'db'>, assetId: string): Promise<number> {
	return (await preparationOf(app.db, assetId))?.progress ?? 0;
}

/** An item and what it shows, with what its media editor changes; `null`: there is nothing to edit. */
export async function itemMedia(app: Using<'db'>, id: string) {
	const item = await itemById(app.db, id);
	const asset = item && (await assetOfItem(app.db, item.id));
	if (!item || !asset) return null;
	return {
		item,
		asset,
		hasPicture: hasPicture(item, asset),
		captions: (await captionsOfAsset(app.db, asset.id)).map(({ language, label, cues }) => ({
			language,
			label,
			cues
		})),
		ways: await wayNames(app),
		versions: await versionsOfItem(app.db, item.id)
	};
}

export async function wayNames(
	app: Using<'db'>
): Promise<{ id: string; name: string; isDefault: boolean }[]> {
	return (await allWays(app.db)).map(({ id, name, isDefault }) => ({ id, name, isDefault }));
}
