import { fail } from '@sveltejs/kit';
import { parse, readForm } from '$server/http/parse';
import { NO_PERMISSIONS } from '$core/staff/permissions';
import { mailPage } from '$server/reads/desk/mail';
import { letMailBe, sendAllNow, sendNow, type Hurried } from '$server/usecases/mail/waiting';
import { JobForm } from './form';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals: { app, viewer }, url, depends }) => {
	depends('desk:mail');
	return mailPage(app, viewer?.permissions ?? NO_PERMISSIONS, url);
};

const GONE = { problem: 'It waits no more: it was sent meanwhile, or somebody else has seen to it.' };

function answer(done: Hurried, said: string) {
	return done.ok ? { said } : fail(409, GONE);
}

export const actions: Actions = {
	now: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(JobForm, await readForm(request));
		if (!parsed.ok) return fail(400, GONE);
		return answer(await sendNow(app, viewer, parsed.data.jobId), 'It is being sent.');
	},
	be: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(JobForm, await readForm(request));
		if (!parsed.ok) return fail(400, GONE);
		return answer(await letMailBe(app, viewer, parsed.data.jobId), 'It is not sent any more.');
	},
	all: async ({ locals: { app, viewer } }) => {
		const count = await sendAllNow(app, viewer);
		return count === 0
			? fail(409, GONE)
			: { said: count === 1 ? 'It is being sent.' : `${count} are being sent.` };
	}
};
