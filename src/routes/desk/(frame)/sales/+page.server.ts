import { parse, readForm } from '$server/http/parse';
import { paymentIds, paymentsPage } from '$server/reads/desk/sales-lists';
import { answerMany, refundMany } from '$server/usecases/sales/run-many-sales';
import type { Actions, PageServerLoad } from './$types';
import { answered, chosenIn, digestIn, refusal } from './chosen';
import { AnswerManyForm, RefundManyForm } from './form';

export const load: PageServerLoad = ({ locals: { app }, url }) => paymentsPage(app, url);

const isOf = 'payment' as const;

export const actions: Actions = {
	refund: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const of = { did: 'refund' as const, action: '/desk/sales?/refund', isOf };
		const parsed = await parse(RefundManyForm, form);
		if (!parsed.ok) return refusal(of, Object.values(parsed.errors).flat()[0] ?? '');
		const endsAccess = parsed.data.access === 'ends';
		const wish = {
			paymentIds: await chosenIn(app, form, paymentIds),
			...{ endsAccess, why: parsed.data.refundWhy.trim() }
		};
		return answered({ ...of, endsAccess }, await refundMany(app, viewer, wish, digestIn(form)));
	},
	answer: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const action = '/desk/sales?/answer';
		const parsed = await parse(AnswerManyForm, form);
		if (!parsed.ok) return refusal({ did: 'came', action }, Object.values(parsed.errors).flat()[0] ?? '');
		const { do: did, why } = parsed.data;
		const wish = {
			paymentIds: await chosenIn(app, form, paymentIds),
			state: did === 'came' ? ('captured' as const) : ('declined' as const),
			why: did === 'came' ? '' : why.trim()
		};
		return answered({ did, action, isOf }, await answerMany(app, viewer, wish, digestIn(form)));
	}
};
