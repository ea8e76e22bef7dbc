import { fail } from '@sveltejs/kit';
import { agreedTo, rehearsalView } from '$server/http/rehearsal-view';
import { givePlanItems, takePlanItems } from '$server/usecases/access/give-plan-items';
import type { Actions } from './$types';

const PROBLEMS = {
	'unknown-plan': 'This plan does not exist any more.',
	'nothing-to-take': 'Nothing to take: this plan reaches them by another fence. Open an item to see which.'
};

export const actions: Actions = {
	plan: async ({ locals: { app, viewer }, request }) => {
		const form = await request.formData();
		const items = form.getAll('items').map(String);
		const did = form.get('do') === 'take' ? 'take' : 'give';
		if (items.length === 0) return fail(400, { bulk: { problem: 'Choose at least one item.', did } });
		const run = did === 'take' ? takePlanItems : givePlanItems;
		const done = await run(app, viewer, String(form.get('plan') ?? ''), items, agreedTo(form));
		if (done.kind === 'refused') return fail(409, { bulk: { problem: PROBLEMS[done.code], did } });
		if (done.kind === 'rehearsed')
			return fail(409, { bulk: { rehearsal: await rehearsalView(app, done.rehearsal), did } });
		return { bulk: { saved: 'Saved. It counts from now on.', did } };
	}
};
