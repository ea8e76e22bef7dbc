import { salesAsk, salesPage } from '$server/reads/desk/sales';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals: { app }, url }) => salesPage(app, salesAsk(url));
