import { legalLinks } from '$core/looks/legal';
import { again } from '$server/http/load-again';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals, url }) => {
	again({ url });
	const site = await locals.app.site();
	const { look, viewer } = locals;
	return {
		site: {
			name: site.siteName,
			zone: site.zone,
			statementName: site.statementName,
			language: site.language,
			legal: legalLinks(site.legal, '').map(({ page, url: href }) => ({ page, href }))
		},
		viewer: viewer && {
			name: viewer.name,
			email: viewer.email,
			isStaff: viewer.permissions.size > 0,
			owes: viewer.owes,
			seesEverything: viewer.permissions.has('open-all')
		},
		/** The path as members know it. */
		path: locals.path,
		otherSide: look.otherSide && { label: look.otherSide.label, at: look.now }
	};
};
