import { error, fail, redirect } from '@sveltejs/kit';
import { readSeats } from '$core/billing/seats';
import { deviceToken, knownDevice } from '$server/http/cookies';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { parse, readForm } from '$server/http/parse';
import { movePage } from '$server/reads/front/moves';
import { beginMove } from '$server/usecases/sales/move-plan';
import type { Actions, PageServerLoad } from './$types';
import { MoveForm } from './form';

export const load: PageServerLoad = async ({ locals: { app, viewer }, params, url }) => {
	const seats = seatsIn(url);
	const page = viewer && (await movePage(app, viewer.id, params.id, params.price, seats));
	// Seats are bought at once, or not.
	const isFor = page && (seats === null || (page.seats !== null && page.to.answer.kind === 'now'));
	if (viewer && seats !== null && !isFor) redirect(303, `/account/seats/${params.id}?none`);
	if (!page) error(404, NO_SUCH_PAGE);
	// What cannot be moved to says so where all of them stand.
	if (page.to.answer.kind === 'refused') redirect(303, `/account/move/${params.id}`);
	return { ...page, to: { ...page.to, answer: page.to.answer } };
};

/** For how many people; `null`: for as many as now. */
function seatsIn(url: URL): number | null {
	const typed = url.searchParams.get('seats');
	return typed === null ? null : readSeats(typed);
}

export const actions: Actions = {
	default: async ({ locals: { app, viewer }, params, request, cookies, url }) => {
		if (!viewer) error(404, NO_SUCH_PAGE);
		const parsed = await parse(MoveForm, await readForm(request));
		if (!parsed.ok) return fail(400, { problem: Object.values(parsed.errors).flat()[0] ?? '' });
		const { at, revision, asks, payBy } = parsed.data;
		const seats = seatsIn(url);
		const moved = await beginMove(app, {
			...{ memberId: viewer.id, agreementId: params.id, priceId: params.price },
			seen: { at: Number(at), revision, asksMinor: asks === '' ? null : Number(asks) },
			payBy: payBy || null,
			...(seats !== null && { seats }),
			deviceToken: knownDevice(cookies) ?? deviceToken(cookies, app.settings.origin)
		}).catch((cause: unknown) => {
			app.log.error({ err: cause }, 'a move could not be begun');
			return { ok: false as const, code: 'unreachable' as const };
		});
		if (!moved.ok) {
			if (moved.code === 'unknown') error(404, NO_SUCH_PAGE);
			if (moved.code === 'unreachable' || moved.code === 'unknown-way')
				return fail(409, { problem: `checkout.${moved.code}` });
			return fail(409, { problem: moved.code === 'changed' ? 'move.changed' : `move.no-${moved.code}` });
		}
		redirect(
			303,
			moved.kind === 'to-pay' ? moved.payUrl : `/account?said=${moved.kind === 'done' ? 'moved' : 'moves'}`
		);
	}
};
