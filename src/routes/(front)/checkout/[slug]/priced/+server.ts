import { error, json } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { readForm } from '$server/http/parse';
import { planToBuy } from '$server/reads/front/shop';
import { buyerOf, isGift, priced, typedIn } from '../priced';
import type { RequestHandler } from './$types';

/** What it comes to with what is typed so far: asked by the checkout page, while it is typed. */
export const POST: RequestHandler = async (event) => {
	const form = await readForm(event.request);
	const { app, look } = event.locals;
	const who = { buyer: buyerOf(event), isGift: isGift(form), priceId: String(form.get('price') ?? '') };
	const plan = await planToBuy(app, look, event.params.slug, who);
	if (!plan) error(404, NO_SUCH_PAGE);
	return json(await priced(event, plan, typedIn(form)));
};
