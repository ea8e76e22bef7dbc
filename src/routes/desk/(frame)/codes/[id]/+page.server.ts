import { batchState } from '$core/access/batches';
import { error } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { allBatches, codesOf } from '$server/reads/desk/codes';
import type { PageServerLoad } from './$types';

const SHOWN = 200;

export const load: PageServerLoad = async ({ locals: { app }, params }) => {
	const found = (await allBatches(app)).find(({ batch }) => batch.id === params.id);
	if (!found) error(404, NO_SUCH_PAGE);
	return {
		batch: found.batch,
		state: batchState({ ...found.batch, ...found }, app.clock.business()),
		total: found.codes,
		codes: await codesOf(app, params.id, SHOWN),
		origin: app.settings.origin
	};
};
