import { fail } from '@sveltejs/kit';
import { preparations, recentEvents, stepsDone, troubledJobs, waitingForYes } from '$server/db/queries/today';
import { readForm } from '$server/http/parse';
import { isJobKind, KINDS } from '$server/jobs/kinds';
import { runJobAgain } from '$server/usecases/running/run-job-again';
import type { Actions, PageServerLoad } from './$types';

const UUID = /^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

export const load: PageServerLoad = async ({ locals: { app } }) => ({
	steps: await stepsDone(app.db),
	preparations: await preparations(app.db),
	asking: await waitingForYes(app.db),
	troubles: (await troubledJobs(app.db)).map(({ kind, ...job }) => ({
		...job,
		what: isJobKind(kind) ? KINDS[kind].name : kind
	})),
	events: await recentEvents(app.db, 15)
});

export const actions: Actions = {
	again: async ({ locals: { app, viewer }, request }) => {
		const id = String((await readForm(request)).get('job') ?? '');
		const done = UUID.test(id) ? await runJobAgain(app, viewer, id) : { ok: false };
		if (!done.ok) return fail(409, { problem: 'This has been run again already, or is done.' });
		return { isRunning: id };
	}
};
