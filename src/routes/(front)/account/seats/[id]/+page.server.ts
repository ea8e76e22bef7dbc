import { error, fail, redirect } from '@sveltejs/kit';
import { isEmail } from 'class-validator';
import { MOST_SEATS } from '$core/billing/seats';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { readForm } from '$server/http/parse';
import { seatsPage } from '$server/reads/front/seats';
import { giveSeats, sendSeatAgain, takeSeatBack, type GaveSeats } from '$server/usecases/sales/seats';
import type { FrontKey } from '$words/en/front';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer }, params, url }) => {
	if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(url.pathname)}`);
	const page = await seatsPage(app, viewer.id, params.id);
	if (!page) error(404, NO_SUCH_PAGE);
	return { seats: page, hasNoMore: url.searchParams.has('none') };
};

const PROBLEMS: Record<Exclude<Extract<GaveSeats, { ok: false }>['code'], 'unknown'>, FrontKey> = {
	full: 'seats.full',
	ended: 'seats.ended',
	'too-many': 'seats.too-many'
};

export const actions: Actions = {
	give: async ({ locals: { app, viewer }, params, request }) => {
		if (!viewer) redirect(303, `/sign-in?next=/account/seats/${params.id}`);
		const typed = String((await readForm(request)).get('addresses') ?? '').slice(0, 60_000);
		const emails = typed.split(/[\s,;]+/).filter((one) => one !== '');
		const no = (problem: FrontKey, address = '') => fail(400, { problem, address, typed });
		if (emails.length === 0) return no('seats.none');
		if (emails.length > MOST_SEATS) return no('seats.too-long');
		const wrong = emails.find((one) => one.length > 254 || !isEmail(one));
		if (wrong !== undefined) return no('seats.no-address', wrong.slice(0, 100));
		const gave = await giveSeats(app, viewer.id, params.id, emails);
		if (!gave.ok && gave.code === 'unknown') error(404, NO_SUCH_PAGE);
		if (!gave.ok) return no(PROBLEMS[gave.code as keyof typeof PROBLEMS]);
		return { given: gave.given, left: gave.left.length };
	},
	again: async ({ locals: { app, viewer }, params, request }) => {
		if (!viewer) redirect(303, `/sign-in?next=/account/seats/${params.id}`);
		const sent = await sendSeatAgain(app, viewer.id, String((await readForm(request)).get('seat') ?? ''));
		if (sent.ok) return { said: 'seats.said-again' as FrontKey };
		return fail(409, { problem: (sent.code === 'unknown' ? 'seats.unknown' : 'seats.too-many') as FrontKey });
	},
	back: async ({ locals: { app, viewer }, params, request }) => {
		if (!viewer) redirect(303, `/sign-in?next=/account/seats/${params.id}`);
		const isBack = await takeSeatBack(app, viewer.id, String((await readForm(request)).get('seat') ?? ''));
		return isBack
			? { said: 'seats.said-back' as FrontKey }
			: fail(409, { problem: 'seats.unknown' as FrontKey });
	}
};
