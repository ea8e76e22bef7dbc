/** What the outline of a collection shows. */
import { whoGetsIn } from '$core/access/who';
import { HOLDERS } from '$core/library/homes';
import { inOrder, outlines, type Outlined } from '$core/library/outline';
import type { OutlineOf, OutlineRow } from '$core/library/outline-view';
import type { Using } from '../../app';
import { progressOf, type LibraryItem } from '../../db/queries/library';
import { shownRows } from '../../rights/shown';

/** What a page brings; the others come after it. */
export const FIRST_ROWS = 10;

/** Beyond so many one looks for things in the Library. */
const MOST_ROWS = 1000;

/** @returns the first `count` rows; `null` where there is no such item */
export async function outlineOf(
	app: Using<'clock' | 'db' | 'rights'>,
	rootId: string,
	count = MOST_ROWS
): Promise<OutlineOf | null> {
	const all = await shownRows(app);
	const root = all.find(({ id }) => id === rootId);
	if (!root) return null;
	const policy = await app.rights.policy();
	const now = app.clock.business();
	const within = inOrder((await insideOf(app))(rootId));
	const shown = within.slice(0, Math.min(count, MOST_ROWS));
	const ids = new Set(shown.map(({ id }) => id));
	const releases = new Map<string, OutlineRow['releases']>();
	for (const { target, planId, window } of policy.source.releases) {
		if (target.kind !== 'resource' || !ids.has(target.id)) continue;
		releases.set(target.id, [...(releases.get(target.id) ?? []), { planId, window }]);
	}
	const busy = shown.flatMap((one) => (isBusy(one) && one.assetId ? [one.assetId] : []));
	const progress = await progressOf(app.db, busy);
	return {
		id: root.id,
		kind: root.kind,
		title: root.title,
		address: root.address,
		total: within.length,
		holders: within.filter(({ kind }) => HOLDERS.has(kind)).length,
		seconds: within.reduce((sum, { seconds }) => sum + (seconds ?? 0), 0),
		rows: shown.map((one) => ({
			id: one.id,
			kind: one.kind,
			title: one.title,
			homeId: one.homeId ?? rootId,
			state: one.state,
			publishAt: one.publishAt,
			assetState: one.assetState,
			progress: isBusy(one) ? (progress.get(one.assetId ?? '') ?? 0) : null,
			seconds: one.seconds,
			who: one.state === 'published' && policy.resources.has(one.id) ? whoGetsIn(policy, one.id, now) : null,
			releases: releases.get(one.id) ?? []
		}))
	};
}

/** All that is not archived, as it is gone through. */
export function insideOf(app: Using<'db' | 'rights'>): Promise<(rootId: string) => Outlined<LibraryItem>[]> {
	return app.rights.content('inside-any', async () =>
		outlines(
			(await shownRows(app))
				.filter(({ state }) => state !== 'archived')
				.sort((a, b) => a.createdAt - b.createdAt || (a.id < b.id ? -1 : 1))
		)
	);
}

function isBusy({ assetState }: LibraryItem): boolean {
	return assetState === 'waiting' || assetState === 'preparing';
}
