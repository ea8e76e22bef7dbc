/** Fences as the Desk lists them, and one of them with what it catches. */
import { alikeFor } from '$core/access/alike';
import { decide } from '$core/access/decide/decide';
import { STRANGER } from '$core/access/model';
import { newcomer } from '$core/access/newcomers';
import { timeline } from '$core/access/timeline';
import type { Using } from '../../app';
import { accountNames } from '../../db/queries/members';
import { allFences, fenceById, namedCounts } from '../../db/queries/policy';
import { shownCategories, shownPlans, shownTags } from '../../rights/shown';
import { asOf } from './as-of';
import { batchNames } from './codes';
import { inspected } from './inspected';
import { labelNames } from './members';

const PAGE_SIZE = 50;
/** So many are seen at a glance. */
const FEW = 8;
const FINDINGS_SHOWN = 30;
const CAUGHT_SHOWN = 25;

/** The list, by `?q=` and `?page=`, and what looks wrong about fences at the moment of the rail. */
export async function fenceList(app: Using<'clock' | 'db' | 'rights'>, url: URL) {
	const { moment, policy } = await asOf(app, url);
	const { caught, findings: all } = inspected(policy, moment.at);
	const labels = new Set((await labelNames(app)).map(({ id }) => id));
	// A label that opens nothing yet is nothing wrong.
	const findings = all.filter((one) => !(one.code === 'plan-opens-nothing' && labels.has(one.planId)));
	const warned = new Set(
		findings.flatMap((one) => ('fenceId' in one && one.code !== 'is-off' ? [one.fenceId] : []))
	);
	const search = (url.searchParams.get('q') ?? '').trim().slice(0, 100);
	const kept = await allFences(app.db);
	const found = kept.filter(({ name }) => name.toLowerCase().includes(search.toLowerCase()));
	const page = Math.max(1, Math.floor(Number(url.searchParams.get('page'))) || 1);
	const shown = found.slice((page - 1) * PAGE_SIZE, page * PAGE_SIZE);
	const named = await namedCounts(
		app.db,
		shown.flatMap(({ crossings }) => crossings)
	);
	return {
		search,
		total: found.length,
		pageSize: PAGE_SIZE,
		hasMany: kept.length > FEW,
		named,
		fences: shown.map((fence) => ({
			fence,
			catches: caught.get(fence.id)?.length ?? 0,
			isWarned: warned.has(fence.id)
		})),
		findings: findings.slice(0, FINDINGS_SHOWN),
		moreFindings: Math.max(0, findings.length - FINDINGS_SHOWN)
	};
}

/** What may be chosen in a fence. */
export async function fenceChoices(app: Using<'db' | 'rights'>) {
	const named = (rows: readonly { id: string; name: string }[]) => rows.map(({ id, name }) => ({ id, name }));
	return {
		plans: (await shownPlans(app)).map(({ id, name, price: { terms } }) => ({ id, name, terms })),
		categories: named(await shownCategories(app)),
		tags: named(await shownTags(app)),
		labels: await labelNames(app),
		batches: await batchNames(app)
	};
}

/**
 * One fence, and what it catches as a stranger and as a new holder of each of its plans find it at the moment of the rail;
 * `null`: there is none.
 */
export async function fencePage(app: Using<'clock' | 'db' | 'rights'>, id: string, url: URL) {
	const kept = await fenceById(app.db, id);
	if (!kept) return null;
	const { moment, policy } = await asOf(app, url);
	const caught = inspected(policy, moment.at).caught.get(id) ?? [];
	const shown = caught.slice(0, CAUGHT_SHOWN);
	const planIds = [
		...new Set(
			kept.crossings.flatMap(({ audience }) => (audience.kind === 'holders' ? audience.planIds : []))
		)
	];
	const viewers = [STRANGER, ...planIds.map((planId) => newcomer(planId, moment.now))];
	const marks = new Set<number>();
	for (const viewer of viewers)
		for (const like of alikeFor(policy, viewer, shown))
			for (const { start } of timeline(policy, viewer, like.id, moment.from, moment.to, moment.assume))
				marks.add(start);
	const { revision, named, ...fence } = kept;
	return {
		fence,
		named,
		revision,
		moment,
		marks: [...marks],
		planIds,
		members: Object.fromEntries(
			await accountNames(
				app.db,
				kept.named.map(({ memberId }) => memberId)
			)
		),
		caught: caught.length,
		items: shown.map((itemId) => ({
			id: itemId,
			found: viewers.map((viewer) => decide(policy, viewer, itemId, moment.at).verdict)
		}))
	};
}
