import { redirect } from '@sveltejs/kit';
import { NO_LIMITS, type Fence } from '$core/access/model';
import { deskNames, namesIn } from '$server/reads/desk/names';
import { itemsOfIdle } from '$server/reads/desk/releases';
import { saveFromEditor } from '../save';
import type { Actions, PageServerLoad } from './$types';

/**
 * `?item=…`, `?within=…` and `?plan=…` say what a new fence begins with; `?released=…&why=…` are all items whose release for
 * a plan counts nowhere, for one reason.
 */
export const load: PageServerLoad = async ({ locals: { app }, url, parent }) => {
	const released = url.searchParams.get('released');
	const why = url.searchParams.get('why') === 'open-anyway' ? 'open-anyway' : 'not-let-in';
	const itemIds = released ? await itemsOfIdle(app, released, why) : url.searchParams.getAll('item');
	const planIds = released ? [released] : url.searchParams.getAll('plan');
	const within = url.searchParams.get('within');
	const { resources, plans } = await deskNames(app);
	const first = resources[within ?? itemIds[0] ?? '']?.title ?? plans[planIds[0] ?? ''] ?? '';
	const fence: Omit<Fence, 'id' | 'createdAt'> = {
		name: first,
		isOn: true,
		// What is open to anyone has to be closed; what others may open stays theirs.
		mode:
			itemIds.length > 0 && planIds.length > 0 && !(released && why === 'open-anyway') ? 'adds' : 'replaces',
		selector: within
			? { kind: 'within', collectionId: within, withPage: false, extensions: [] }
			: { kind: 'items', itemIds },
		crossings:
			planIds.length > 0
				? [
						{
							id: '',
							audience: { kind: 'holders', planIds },
							window: null,
							limits: NO_LIMITS,
							isThroughout: false
						}
					]
				: [],
		turnAway: null,
		listing: 'shown'
	};
	const { choices } = await parent();
	return { fence, known: await namesIn(app, [fence, choices]) };
};

export const actions: Actions = {
	save: async ({ locals, request }) => {
		const saved = await saveFromEditor(locals, request, null);
		if (!saved.ok) return saved.failure;
		redirect(303, `/desk/fences/${saved.fenceId}`);
	}
};
