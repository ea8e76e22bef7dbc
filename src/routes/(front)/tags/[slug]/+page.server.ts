import { error } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { listFor } from '$server/http/lists';
import { denialOf } from '$server/http/pass';
import { splitOtherSide } from '$server/http/look';
import { shownTags } from '$server/http/shown';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, params, url }) => {
	const { app, look } = locals;
	const label = (await shownTags(app)).find(({ slug }) => slug === params.slug);
	if (!label) error(404, NO_SUCH_PAGE);
	const denial = await denialOf(locals, splitOtherSide(url.pathname).path);
	const isIn = (id: string) => look.policy.resources.get(id)?.tagIds.includes(label.id) ?? false;
	return {
		name: label.name,
		denial,
		items: denial ? [] : await listFor(app, look, (item) => item.address !== null && isIn(item.id))
	};
};
