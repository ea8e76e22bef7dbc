import { codeIn } from '$server/http/code-in';
import { currenciesShown, plansComing, plansOffered } from '$server/reads/front/shop';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, look }, url }) => {
	const code = codeIn(url);
	return {
		code,
		offers: await plansOffered(app, look, { code }),
		coming: await plansComing(app, look),
		money: await currenciesShown(app, look)
	};
};
