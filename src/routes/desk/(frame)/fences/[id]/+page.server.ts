import { error, fail, redirect } from '@sveltejs/kit';
import { alikeFor } from '$core/access/alike';
import { decide } from '$core/access/decide/decide';
import { newcomer } from '$core/access/rehearse';
import { timeline } from '$core/access/timeline';
import { accountNames } from '$server/db/queries/members';
import { fenceById } from '$server/db/queries/policy';
import { asOf } from '$server/http/as-of';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { namesIn } from '$server/http/names';
import { agreedTo, rehearsalView } from '$server/http/rehearsal-view';
import { inspected } from '$server/reads/inspected';
import { STRANGER } from '$server/rights/rights';
import { removeFence } from '$server/usecases/fences/save-fence';
import { readForm } from '$server/http/parse';
import { saveFromEditor } from '../save';
import type { Actions, PageServerLoad } from './$types';

const SHOWN = 25;

/** What it catches, as a stranger and as a new holder of each of its plans find it at the moment of the rail. */
export const load: PageServerLoad = async ({ locals: { app }, params, url, parent }) => {
	const kept = await fenceById(app.db, params.id);
	if (!kept) error(404, NO_SUCH_PAGE);
	const { moment, policy } = await asOf(app, url);
	const caught = inspected(policy, moment.at).caught.get(params.id) ?? [];
	const shown = caught.slice(0, SHOWN);
	const planIds = [
		...new Set(
			kept.crossings.flatMap(({ audience }) => (audience.kind === 'holders' ? audience.planIds : []))
		)
	];
	const namedIds = kept.crossings.flatMap(({ audience }) =>
		audience.kind === 'named' ? audience.members.map(({ memberId }) => memberId) : []
	);
	const holders = planIds.map((planId) => ({ planId, viewer: newcomer(planId, moment.now) }));
	const marks = new Set<number>();
	for (const viewer of [STRANGER, ...holders.map((one) => one.viewer)])
		for (const { id } of alikeFor(policy, viewer, shown))
			for (const { start } of timeline(policy, viewer, id, moment.from, moment.to, moment.assume))
				marks.add(start);
	const { revision, ...fence } = kept;
	const page = {
		fence,
		revision,
		moment,
		marks: [...marks],
		planIds,
		members: Object.fromEntries(await accountNames(app.db, namedIds)),
		caught: caught.length,
		items: shown.map((id) => ({
			id,
			found: [STRANGER, ...holders.map(({ viewer }) => viewer)].map(
				(viewer) => decide(policy, viewer, id, moment.at).verdict
			)
		}))
	};
	// The editor speaks of whatever may be chosen in it, too.
	const { choices } = await parent();
	return { ...page, known: await namesIn(app, [page, choices]) };
};

export const actions: Actions = {
	save: async ({ locals, request, params }) => {
		const saved = await saveFromEditor(locals, request, params.id);
		if (!saved.ok) return saved.failure;
		return { saved: ['Saved. It counts from now on.', ...saved.notes].join(' ') };
	},
	remove: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const removed = await removeFence(app, viewer, params.id, agreedTo(form));
		if (removed.kind === 'rehearsed')
			return fail(409, { removal: await rehearsalView(app, removed.rehearsal) });
		redirect(303, '/desk/fences');
	}
};
