/** Reads the names that a page came with, with words for what is gone. */
import type { ResourceKind } from '$core/access/model';
import type { Names } from './wording/decision';
import type { FenceNames } from './wording/fence';
import { formatMoment } from './wording/time';

export interface KnownNames {
	resources: Record<string, { title: string; kind: ResourceKind; address: string | null } & Place>;
	fences: Record<string, string>;
	plans: Record<string, string>;
	/** On members: held like plans. */
	labels: Record<string, string>;
	categories: Record<string, string>;
	tags: Record<string, string>;
	batches: Record<string, string>;
}

/** Where something lives, as far as its name goes. */
export interface Place {
	title: string;
	homeId: string | null;
}

const MOST_HOMES = 32;

/** Its title after those of the places it lives in: `Tables / Wheels / Small ones`. */
export function placeName(places: Record<string, Place>, id: string): string {
	const titles: string[] = [];
	let at: string | null = id;
	while (at !== null && titles.length < MOST_HOMES) {
		const place: Place | undefined = places[at];
		titles.unshift(place?.title ?? 'something that is gone');
		at = place?.homeId ?? null;
	}
	return titles.join(' / ');
}

/** Both together. */
export function joined(known: KnownNames, more: KnownNames | null): KnownNames {
	if (more === null) return known;
	return {
		resources: { ...known.resources, ...more.resources },
		fences: { ...known.fences, ...more.fences },
		plans: { ...known.plans, ...more.plans },
		labels: { ...known.labels, ...more.labels },
		categories: { ...known.categories, ...more.categories },
		tags: { ...known.tags, ...more.tags },
		batches: { ...known.batches, ...more.batches }
	};
}

function labelled(name: string | undefined): string | null {
	return name === undefined ? null : `the label “${name}”`;
}

export function namesOf(
	known: KnownNames,
	zone: string
): Names & FenceNames & { newcomer(planId: string): string } {
	return {
		fence: (id) => known.fences[id] ?? 'a fence that is gone',
		plan: (id) => known.plans[id] ?? labelled(known.labels[id]) ?? 'a plan that is gone',
		newcomer: (id) =>
			known.labels[id] === undefined
				? `Joined ${known.plans[id] ?? 'a plan that is gone'} today`
				: `With the label “${known.labels[id]}”`,
		resource: (id) => known.resources[id]?.title ?? 'an item that is gone',
		kind: (id) => known.resources[id]?.kind ?? null,
		category: (id) => known.categories[id] ?? 'a category that is gone',
		tag: (id) => known.tags[id] ?? 'a tag that is gone',
		batch: (id) => known.batches[id] ?? 'codes that are gone',
		when: (at) => formatMoment(at, zone)
	};
}
