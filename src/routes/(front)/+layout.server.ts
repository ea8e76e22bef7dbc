import { rateOn } from '$core/billing/tax';
import { legalLinks } from '$core/looks/legal';
import { localDay } from '$core/time/calendar';
import { again } from '$server/http/load-again';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals, url }) => {
	again({ url });
	const site = await locals.app.site();
	const { look, viewer } = locals;
	const { way, home, rates } = site.tax;
	const today = localDay(locals.app.clock.business(), site.zone);
	return {
		site: {
			name: site.siteName,
			zone: site.zone,
			statementName: site.statementName,
			language: site.language,
			/** How prices are written, and what the tax is called. */
			tax: way === 'none' || !home ? null : { way, name: rateOn(rates, home, today)?.name ?? '' },
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
