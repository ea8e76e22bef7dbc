import { again } from '$server/http/load-again';
import { siteView } from '$server/reads/front/site-view';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals, url }) => {
	again({ url });
	const { look, viewer } = locals;
	return {
		site: await siteView(locals.app, locals.language),
		viewer: viewer && {
			name: viewer.name,
			email: viewer.email,
			isStaff: viewer.permissions.size > 0,
			owes: viewer.owes,
			seesEverything: viewer.permissions.has('open-all')
		},
		isPractice: locals.app.isPractice,
		/** The path as members know it. */
		path: locals.path,
		otherSide: look.otherSide && { label: look.otherSide.label, at: look.now }
	};
};
