import { taxReport, yearAsked } from '$server/reads/desk/tax-report';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app }, url }) =>
	taxReport(app, await yearAsked(app, url.searchParams.get('year')));
