import { areasOf, isPractised, NO_PERMISSIONS } from '$core/staff/permissions';
import { localDay } from '$core/time/calendar';
import { languageOf } from '$words/languages';
import { labelNames } from '$server/reads/desk/members';
import { planNames } from '$server/reads/desk/plans';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals: { app, viewer } }) => {
	const site = await app.site();
	return {
		site: {
			name: site.siteName,
			zone: site.zone,
			currency: site.currency,
			/** How dates are written. */
			locale: languageOf(site.language).locale,
			/** The day that it is there, `2026-07-07`. */
			today: localDay(app.clock.business(), site.zone)
		},
		/** Where this member of staff may go. */
		areas: areasOf(viewer?.permissions ?? NO_PERMISSIONS).filter(
			(area) => !app.isPractice || isPractised(area)
		),
		isPractice: app.isPractice,
		may: [...(viewer?.permissions ?? NO_PERMISSIONS)],
		staff: { name: viewer?.name ?? '', email: viewer?.email ?? '' },
		now: app.clock.business(),
		hasMovableClock: app.settings.hasMovableClock,
		planChoices: await planNames(app),
		/** On members. */
		labelChoices: await labelNames(app)
	};
};
