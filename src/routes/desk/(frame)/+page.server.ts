import { preparations, recentEvents, stepsDone } from '$server/db/queries/today';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app } }) => ({
	steps: await stepsDone(app.db),
	preparations: await preparations(app.db),
	events: await recentEvents(app.db, 15)
});
