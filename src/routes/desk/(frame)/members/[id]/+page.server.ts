import { error, redirect } from '@sveltejs/kit';
import { accountById, grantsOf, tenuresOf } from '$server/db/queries/members';
import { libraryList } from '$server/db/queries/library';
import { allFences } from '$server/db/queries/policy';
import { paymentsOf, planNames, subscriptionsOf } from '$server/db/queries/sales';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import type { Actions, PageServerLoad } from './$types';

const SHOWN = 200;

export const load: PageServerLoad = async ({ locals: { app }, params }) => {
	const account = await accountById(app.db, params.id);
	if (!account) error(404, NO_SUCH_PAGE);
	const subscriptions = await subscriptionsOf(app.db, account.id);
	const grants = await grantsOf(app.db, account.id);
	const rows = await libraryList(app.db, '', SHOWN);
	const fences = await allFences(app.db);
	const planIds = fences.flatMap((f) =>
		f.crossings.flatMap(({ audience: a }) => (a.kind === 'holders' ? a.planIds : []))
	);
	return {
		member: { id: account.id, name: account.name, email: account.email, createdAt: account.createdAt },
		subscriptions: subscriptions.map(({ id, planId, state, endedAt, cancelWhy, cancelWords }) => ({
			id,
			planId,
			state,
			endedAt,
			cancelWhy,
			cancelWords
		})),
		grants,
		tenures: await tenuresOf(app.db, account.id),
		payments: (await paymentsOf(app.db, account.id)).map(
			({ id, orderId, state, amountMinor, currency, createdAt, receipt }) => ({
				id,
				orderId,
				state,
				amountMinor,
				currency,
				at: createdAt,
				receipt
			})
		),
		items: await Promise.all(
			rows.map(async ({ item }) => ({
				id: item.id,
				title: item.title,
				decision: await app.rights.decide(account.id, item.id)
			}))
		),
		planNames: await planNames(app.db, [...new Set([...planIds, ...grants.map((grant) => grant.planId)])]),
		fenceNames: new Map(fences.map((fence) => [fence.id, fence.name]))
	};
};

export const actions: Actions = {
	delete: async ({ locals: { app, viewer }, params }) => {
		await deleteMember(app, viewer, params.id);
		redirect(303, '/desk/members');
	}
};
