import { fail, redirect } from '@sveltejs/kit';
import { readOff } from '$core/billing/discount-typed';
import { CURRENCIES } from '$core/billing/money';
import { offMessage } from '$server/http/money-messages';
import { fieldError, parse, readForm } from '$server/http/parse';
import { readDate } from '$server/http/read-window';
import { BATCH_STATES } from '$core/access/batches';
import { codesPage } from '$server/reads/desk/codes';
import { listAsk } from '$server/reads/desk/list-ask';
import { endBatches, makeBatch, MAX_CODES } from '$server/usecases/codes/codes';
import type { Actions, PageServerLoad } from './$types';
import { BatchForm } from './form';
import { idsIn } from './ids';

export const load: PageServerLoad = async ({ locals: { app }, url }) => ({
	currencies: CURRENCIES,
	...(await codesPage(app, {
		...listAsk(url),
		gives: url.searchParams.get('gives') || null,
		state: BATCH_STATES.find((state) => state === url.searchParams.get('state')) ?? null
	}))
});

export const actions: Actions = {
	make: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const parsed = await parse(BatchForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const { name, does, how, code, count, plan, days, uses } = parsed.data;
		if (how === 'many' && Number(count) > MAX_CODES)
			return fail(400, fieldError(form, 'count', `At most ${MAX_CODES} at once.`));
		const { zone } = await app.site();
		const dates: Record<string, number | null> = { startsAt: null, endsAt: null };
		for (const field of ['startsAt', 'endsAt'] as const) {
			if (parsed.data[field] === '') continue;
			const read = readDate(parsed.data[field], zone);
			if (!read.ok) return fail(400, fieldError(form, field, read.message));
			dates[field] = read.value.at;
		}
		const { startsAt = null, endsAt = null } = dates;
		if (startsAt !== null && endsAt !== null && endsAt <= startsAt)
			return fail(
				400,
				fieldError(form, 'endsAt', 'The codes would end before they begin. Choose a later end.')
			);
		const off = does === 'takes-off' ? readOff(parsed.data) : null;
		if (off && !off.ok)
			return fail(400, fieldError(form, off.problem.field, offMessage(off.problem, parsed.data.offCurrency)));
		const made = await makeBatch(app, viewer, {
			name,
			code: how === 'one' ? code : null,
			count: Number(count),
			does: off
				? { kind: 'takes-off', discount: off.discount, ...offFor(form, parsed.data) }
				: does === 'gives'
					? { kind: 'gives', planId: plan, days: days === '' ? null : Number(days) }
					: { kind: 'opens' },
			startsAt,
			endsAt,
			usesPerCode: uses === '' ? null : Number(uses)
		});
		if (!made.ok) return fail(409, fieldError(form, 'code', 'This code is taken. Choose another.'));
		redirect(303, `/desk/codes/${made.batchId}`);
	},
	end: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const kept = { did: String(form.get('do') ?? ''), action: '/desk/codes?/end' };
		const problem = (words: string) => fail(400, { bulk: { problem: words, ...kept } });
		const ids = idsIn(form);
		if (ids.length === 0) return problem('Choose codes, and what is to become of them.');
		const local = String(form.get('until') ?? '');
		const end = local === '' ? null : readDate(local, (await app.site()).zone);
		if (end && !end.ok) return problem(end.message);
		const count = await endBatches(app, viewer, ids, kept.did === 'now' ? 'now' : (end?.value.at ?? null));
		const saved =
			count === 0 ? 'All of them are over already.' : count === 1 ? 'One changed.' : `${count} changed.`;
		return { bulk: { saved, ...kept } };
	}
};

/** Of which plans something is taken off, and how often for each buyer. */
function offFor(form: FormData, { isOncePerBuyer }: BatchForm) {
	const planIds = idsIn(form, 'offPlans');
	return { planIds: planIds.length === 0 ? null : planIds, isOncePerBuyer: isOncePerBuyer === 'yes' };
}
