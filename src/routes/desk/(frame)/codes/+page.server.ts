import { fail, redirect } from '@sveltejs/kit';
import { fieldError, parse, readForm } from '$server/http/parse';
import { readDate } from '$server/http/read-window';
import { allBatches } from '$server/reads/desk/codes';
import { makeBatch, MAX_CODES } from '$server/usecases/codes/codes';
import type { Actions, PageServerLoad } from './$types';
import { BatchForm } from './form';

export const load: PageServerLoad = async ({ locals: { app } }) => ({
	batches: (await allBatches(app)).map(({ batch, codes, uses }) => ({ ...batch, codes, uses }))
});

export const actions: Actions = {
	default: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const parsed = await parse(BatchForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const { name, how, code, count, plan, days, uses } = parsed.data;
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
		const made = await makeBatch(app, viewer, {
			name,
			code: how === 'one' ? code : null,
			count: Number(count),
			planId: plan || null,
			days: days === '' ? null : Number(days),
			startsAt,
			endsAt,
			usesPerCode: uses === '' ? null : Number(uses)
		});
		if (!made.ok) return fail(409, fieldError(form, 'code', 'This code is taken. Choose another.'));
		redirect(303, `/desk/codes/${made.batchId}`);
	}
};
