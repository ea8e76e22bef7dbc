import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals }) => {
	const site = await locals.app.site();
	return {
		site: { name: site.siteName, zone: site.zone, statementName: site.statementName },
		viewer: locals.viewer && {
			name: locals.viewer.name,
			email: locals.viewer.email,
			isStaff: locals.viewer.isStaff
		}
	};
};
