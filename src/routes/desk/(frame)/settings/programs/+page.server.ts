import { fail } from '@sveltejs/kit';
import { parse, readForm } from '$server/http/parse';
import { allApiKeys, makeApiKey, revokeApiKey } from '$server/usecases/running/api-keys';
import type { Actions, PageServerLoad } from './$types';
import { KeyForm } from '../form';

export const load: PageServerLoad = async ({ locals: { app } }) => ({ keys: await allApiKeys(app) });

export const actions: Actions = {
	key: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(KeyForm, await readForm(request));
		if (!parsed.ok) return fail(400, parsed);
		return { key: await makeApiKey(app, viewer, parsed.data.keyName) };
	},
	revoke: async ({ locals: { app, viewer }, request }) => {
		await revokeApiKey(app, viewer, String((await readForm(request)).get('id') ?? ''));
		return { saved: 'The key does not work any more.' };
	}
};
