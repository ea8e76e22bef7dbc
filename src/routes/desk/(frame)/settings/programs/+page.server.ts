import { fail } from '@sveltejs/kit';
import { parse, readForm } from '$server/http/parse';
import { listenerRows } from '$server/reads/desk/listeners';
import { allApiKeys, makeApiKey, revokeApiKey } from '$server/usecases/running/api-keys';
import {
	endOutsideCheckout,
	makeOutsideCheckout,
	outsideCheckoutsThere
} from '$server/usecases/running/outside-checkouts';
import type { Actions, PageServerLoad } from './$types';
import { CheckoutForm, KeyForm } from '../form';

export const load: PageServerLoad = async ({ locals: { app } }) => ({
	keys: await allApiKeys(app),
	checkouts: await outsideCheckoutsThere(app),
	listeners: await listenerRows(app)
});

export const actions: Actions = {
	key: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(KeyForm, await readForm(request));
		if (!parsed.ok) return fail(400, parsed);
		return { key: await makeApiKey(app, viewer, parsed.data.keyName) };
	},
	checkout: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(CheckoutForm, await readForm(request));
		if (!parsed.ok) return fail(400, parsed);
		return { checkout: await makeOutsideCheckout(app, viewer, parsed.data.checkoutName) };
	},
	endCheckout: async ({ locals: { app, viewer }, request }) => {
		await endOutsideCheckout(app, viewer, String((await readForm(request)).get('id') ?? ''));
		return { ended: 'It is not listened to any more.' };
	},
	revoke: async ({ locals: { app, viewer }, request }) => {
		await revokeApiKey(app, viewer, String((await readForm(request)).get('id') ?? ''));
		return { saved: 'The key does not work any more.' };
	}
};
