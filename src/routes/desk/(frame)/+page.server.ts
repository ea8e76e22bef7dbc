import { fail } from '@sveltejs/kit';
import { NO_PERMISSIONS } from '$core/staff/permissions';
import { parse, readForm } from '$server/http/parse';
import { deskNames } from '$server/reads/desk/names';
import { unfinishedUploads } from '$server/http/uploads';
import { today } from '$server/reads/desk/today';
import { isJobKind, KINDS } from '$server/jobs/kinds';
import { answerPayment, sayRefundSent, type Answered } from '$server/usecases/sales/answer-payment';
import { runJobAgain } from '$server/usecases/running/run-job-again';
import { namesOf } from '$ui/names';
import { findingWords } from '$ui/wording/fence';
import type { Actions, PageServerLoad } from './$types';
import { ANSWER_PROBLEMS, AnswerForm, answerOf } from './answer-form';

const UUID = /^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

export const load: PageServerLoad = async ({ locals: { app, viewer } }) => {
	const { troubles, findings, ...shown } = await today(app, viewer?.permissions ?? NO_PERMISSIONS);
	const names = findings.length > 0 ? namesOf(await deskNames(app), (await app.site()).zone) : null;
	return {
		...shown,
		uploadLimit: app.settings.uploadLimitBytes,
		unfinished: viewer && shown.may.library ? await unfinishedUploads(app, viewer.id) : [],
		findings: names ? findings.map((one) => findingWords(one, names)) : [],
		troubles: troubles.map(({ kind, ...job }) => ({
			...job,
			what: isJobKind(kind) ? KINDS[kind].name : kind
		}))
	};
};

export const actions: Actions = {
	again: async ({ locals: { app, viewer }, request }) => {
		const id = String((await readForm(request)).get('job') ?? '');
		const done = UUID.test(id) ? await runJobAgain(app, viewer, id) : { ok: false };
		if (!done.ok) return fail(409, { problem: 'This has been run again already, or is done.' });
		return { isRunning: id };
	},
	answer: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(AnswerForm, await readForm(request));
		if (!parsed.ok) return fail(400, { problem: Object.values(parsed.errors).flat()[0] ?? '' });
		const answer = answerOf(parsed.data);
		if (typeof answer === 'string') return fail(400, { problem: answer });
		return answered(await answerPayment(app, viewer, answer));
	},
	sent: async ({ locals: { app, viewer }, request }) => {
		const id = String((await readForm(request)).get('refund') ?? '');
		return answered(
			UUID.test(id) ? await sayRefundSent(app, viewer, id) : { ok: false, code: 'not-waiting' }
		);
	}
};

function answered(answer: Answered) {
	return answer.ok ? { isAnswered: true } : fail(409, { problem: ANSWER_PROBLEMS[answer.code] });
}
