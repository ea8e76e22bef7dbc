import { fail } from '@sveltejs/kit';
import { mayAny, NO_PERMISSIONS, type Permission } from '$core/staff/permissions';
import { preparations, recentEvents, stepsDone, troubledJobs, waitingForYes } from '$server/db/queries/today';
import { openDisputes } from '$server/reads/disputes';
import { readForm } from '$server/http/parse';
import { isJobKind, KINDS } from '$server/jobs/kinds';
import { runJobAgain } from '$server/usecases/running/run-job-again';
import type { Actions, PageServerLoad } from './$types';

const UUID = /^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/** Of what there is today, each sees what they may do something about. */
export const load: PageServerLoad = async ({ locals: { app, viewer } }) => {
	const held = viewer?.permissions ?? NO_PERMISSIONS;
	const isOwn = (kind: string) => mayAny(held, TROUBLE_NEEDS[kind] ?? ['members', 'sales']);
	const hasLibrary = held.has('library');
	return {
		may: { library: hasLibrary, members: held.has('members') },
		steps: mayAny(held, ['library', 'plans', 'fences']) ? await stepsDone(app.db) : null,
		preparations: hasLibrary ? await preparations(app.db) : [],
		asking: hasLibrary ? await waitingForYes(app.db) : [],
		troubles: (await troubledJobs(app.db))
			.filter(({ kind }) => isOwn(kind))
			.map(({ kind, ...job }) => ({ ...job, what: isJobKind(kind) ? KINDS[kind].name : kind })),
		disputes: held.has('sales') ? await openDisputes(app) : [],
		events: held.has('members') ? await recentEvents(app.db, 15) : []
	};
};

/** Jobs of the Library; all others are about members and money. */
const TROUBLE_NEEDS: Record<string, readonly Permission[]> = {
	prepare: ['library'],
	'take-in': ['library']
};

export const actions: Actions = {
	again: async ({ locals: { app, viewer }, request }) => {
		const id = String((await readForm(request)).get('job') ?? '');
		const done = UUID.test(id) ? await runJobAgain(app, viewer, id) : { ok: false };
		if (!done.ok) return fail(409, { problem: 'This has been run again already, or is done.' });
		return { isRunning: id };
	}
};
