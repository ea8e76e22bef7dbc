import { ordersPage } from '$server/reads/desk/sales-lists';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals: { app }, url }) => ordersPage(app, url);
