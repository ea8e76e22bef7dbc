/** What every page of the front knows of its site. */
import { rateOn } from '$core/billing/tax';
import { legalLinks } from '$core/looks/legal';
import { localDay } from '$core/time/calendar';
import type { LanguageCode } from '$words/languages';
import type { Using } from '../../app';

/** @param language in which the front speaks to whoever looks */
export async function siteView(app: Using<'clock' | 'site'>, language: LanguageCode) {
	const site = await app.site();
	const { way, home, rates } = site.tax;
	const today = localDay(app.clock.business(), site.zone);
	return {
		name: site.siteName,
		zone: site.zone,
		statementName: site.statementName,
		language,
		/** How prices are written, and what the tax is called. */
		tax: way === 'none' || !home ? null : { way, name: rateOn(rates, home, today)?.name ?? '' },
		legal: legalLinks(site.legal, '').map(({ page, url: href }) => ({ page, href }))
	};
}
