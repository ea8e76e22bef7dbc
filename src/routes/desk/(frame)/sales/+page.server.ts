import { listAsk } from '$server/reads/desk/list-ask';
import { salesPage } from '$server/reads/desk/sales';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals: { app }, url }) => salesPage(app, listAsk(url));
