import { allFences } from '$server/db/queries/policy';
import { asOf } from '$server/http/as-of';
import { deskNames } from '$server/http/names';
import { shownCategories, shownPlans, shownTags } from '$server/rights/shown';
import { inspected } from '$server/reads/inspected';
import { allBatches } from '$server/usecases/codes/codes';
import { namesOf } from '$ui/names';
import { closesWords, crossesWords, findingWords } from '$ui/wording/fence';
import type { LayoutServerLoad } from './$types';

const PAGE_SIZE = 50;
/** So many are seen at a glance. */
const FEW = 8;
const FINDINGS_SHOWN = 30;

export const load: LayoutServerLoad = async ({ locals: { app }, url }) => {
	const { moment, policy } = await asOf(app, url);
	const site = await app.site();
	const { caught, findings } = inspected(policy, moment.at);
	const names = namesOf(await deskNames(app), site.zone);
	const warned = new Set(
		findings.flatMap((one) => ('fenceId' in one && one.code !== 'is-off' ? [one.fenceId] : []))
	);
	const named = (rows: readonly { id: string; name: string }[]) => rows.map(({ id, name }) => ({ id, name }));
	const search = (url.searchParams.get('q') ?? '').trim().slice(0, 100);
	const all = await allFences(app.db);
	const found = all.filter(({ name }) => name.toLowerCase().includes(search.toLowerCase()));
	const page = Math.max(1, Math.floor(Number(url.searchParams.get('page'))) || 1);
	return {
		search,
		total: found.length,
		pageSize: PAGE_SIZE,
		hasMany: all.length > FEW,
		fences: found.slice((page - 1) * PAGE_SIZE, page * PAGE_SIZE).map((fence) => ({
			id: fence.id,
			name: fence.name,
			isOn: fence.isOn,
			words: `${closesWords(fence, names)}; ${crossesWords(fence.crossings, names)}`,
			catches: caught.get(fence.id)?.length ?? 0,
			isWarned: warned.has(fence.id)
		})),
		findings: findings.slice(0, FINDINGS_SHOWN).map((one) => findingWords(one, names)),
		moreFindings: Math.max(0, findings.length - FINDINGS_SHOWN),
		choices: {
			plans: named(await shownPlans(app)),
			categories: named(await shownCategories(app)),
			tags: named(await shownTags(app)),
			batches: named((await allBatches(app)).map(({ batch }) => batch))
		},
		siteTurnAway: site.turnAway
	};
};
