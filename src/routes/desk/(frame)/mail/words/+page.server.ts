import { fail } from '@sveltejs/kit';
import { MAIL_KEYS, MAIL_NAMES, MAIL_TITLES, type MailKey } from '$words/en/mail';
import { languageOf } from '$words/languages';
import type { PatternProblem } from '$words/say';
import { begunWith, fieldError, parse, readForm } from '$server/http/parse';
import { mailSample } from '$server/mail/sample';
import { mailTexts } from '$server/reads/desk/settings';
import { mailTextRevision, saveMailText } from '$server/usecases/running/save-mail-text';
import type { Actions, PageServerLoad } from './$types';
import { MailKeyForm, MailTextForm } from './form';

export const load: PageServerLoad = async ({ locals: { app }, url }) => {
	const own = await mailTexts(app);
	const site = await app.site();
	const asked = url.searchParams.get('mail');
	const key = MAIL_KEYS.find((one) => one === asked) ?? MAIL_KEYS[0] ?? 'sign-in';
	const text = own.get(key) ?? null;
	return {
		mails: MAIL_KEYS.map((one) => ({ key: one, title: MAIL_TITLES[one], isOwn: own.has(one) })),
		chosen: {
			key,
			title: MAIL_TITLES[key],
			...(text ?? languageOf(site.language).mail[key]),
			isOwn: text !== null,
			isToStaff: key === 'told' || key === 'told-daily',
			revision: mailTextRevision(text),
			names: MAIL_NAMES[key]
		},
		sample: mailSample(site, key, text)
	};
};

export const actions: Actions = {
	save: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const parsed = await parse(MailTextForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const { occasion, subject, text, button } = parsed.data;
		const wish = { subject, text: text.replaceAll('\r\n', '\n'), button };
		const saved = await saveMailText(app, viewer, occasion, wish, begunWith(form));
		switch (saved.kind) {
			case 'saved':
				return { saved: 'Saved. The next mail of this kind says it.' };
			case 'refused':
				return fail(400, fieldError(form, saved.field, problemWords(saved.problem, occasion)));
			case 'changed': {
				const { theirs } = saved;
				return fail(409, {
					theirs: { revision: mailTextRevision(theirs), words: `“${theirs.subject}”` },
					values: parsed.data
				});
			}
		}
	},
	reset: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(MailKeyForm, await readForm(request));
		if (!parsed.ok) return fail(400, parsed);
		const saved = await saveMailText(app, viewer, parsed.data.occasion, null, null);
		return saved.kind === 'saved'
			? { saved: 'It says again what Stile came with.' }
			: fail(409, { errors: { text: ['Somebody else has changed it. Load the page again.'] } });
	}
};

function problemWords(problem: PatternProblem, key: MailKey): string {
	if (problem.code === 'unreadable')
		return 'A bracket { is opened and not closed, or closed and not opened. Names stand in brackets, such as {site}.';
	const known = MAIL_NAMES[key].map((name) => `{${name}}`).join(', ');
	return `There is no {${problem.name}} in this mail. It may speak of ${known}.`;
}
