import { fail } from '@sveltejs/kit';
import { NO_PERMISSIONS } from '$core/staff/permissions';
import { MAIL_KEYS, MAIL_NAMES, MAIL_TITLES, type MailKey } from '$words/en/mail';
import { isLanguage, LANGUAGE_CODES, languageOf } from '$words/languages';
import type { PatternProblem } from '$words/say';
import { begunWith, fieldError, parse, readForm } from '$server/http/parse';
import { drawMail } from '$server/mail/preview';
import { tryMailOut } from '$server/mail/try-out';
import { newestOrders } from '$server/reads/desk/mail';
import { mailTexts } from '$server/reads/desk/settings';
import { mayTryMailOut } from '$server/usecases/mail/try-out';
import { mailTextRevision, saveMailText } from '$server/usecases/running/save-mail-text';
import { draftOf } from './draft';
import { DraftForm, MailKeyForm, MailTextForm } from './form';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app, viewer }, url }) => {
	const site = await app.site();
	const asked = url.searchParams.get('language') ?? '';
	const language = isLanguage(asked) ? asked : site.language;
	const own = await mailTexts(app, language);
	const named = url.searchParams.get('mail');
	const key = MAIL_KEYS.find((one) => one === named) ?? MAIL_KEYS[0] ?? 'sign-in';
	const text = own.get(key) ?? null;
	const words = text ?? languageOf(language).mail[key];
	const maySeeMembers = (viewer?.permissions ?? NO_PERMISSIONS).has('members');
	return {
		language,
		languages: LANGUAGE_CODES.map((code) => ({
			...{ code, name: languageOf(code).name, isSites: code === site.language }
		})),
		mails: MAIL_KEYS.map((one) => ({ key: one, title: MAIL_TITLES[one], isOwn: own.has(one) })),
		chosen: {
			key,
			title: MAIL_TITLES[key],
			...words,
			isOwn: text !== null,
			isToStaff: key === 'told' || key === 'told-daily',
			revision: mailTextRevision(text),
			names: MAIL_NAMES[key]
		},
		orders: maySeeMembers ? await newestOrders(app) : [],
		sample: await drawMail(app, { key, language, text: words, number: '' })
	};
};

export const actions: Actions = {
	save: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const parsed = await parse(MailTextForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const { occasion: key, language, subject, text, button } = parsed.data;
		const wish = { subject, text: text.replaceAll('\r\n', '\n'), button };
		const saved = await saveMailText(app, viewer, { key, language }, wish, begunWith(form));
		switch (saved.kind) {
			case 'saved':
				return { saved: 'Saved. The next mail of this kind says it.' };
			case 'refused':
				return fail(400, fieldError(form, saved.field, problemWords(saved.problem, key)));
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
		const { occasion: key, language } = parsed.data;
		const saved = await saveMailText(app, viewer, { key, language }, null, null);
		return saved.kind === 'saved'
			? { saved: 'It says again what Stile came with.' }
			: fail(409, { errors: { text: ['Somebody else has changed it. Load the page again.'] } });
	},
	try: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(DraftForm, await readForm(request));
		if (!parsed.ok) return fail(400, { part: 'try', problem: Object.values(parsed.errors).flat()[0] ?? '' });
		const read = draftOf(viewer, parsed.data);
		if (!read.ok)
			return fail(400, { part: 'try', problem: problemWords(read.problem, parsed.data.occasion) });
		const may = await mayTryMailOut(app, viewer);
		if (!may.ok) return fail(429, { part: 'try', problem: TRY_PROBLEMS[may.code] });
		const tried = await tryMailOut(app, read.draft, may.to);
		if (tried.ok) return { part: 'try', tried: may.to };
		return fail(409, {
			part: 'try',
			problem: tried.code === 'refused' ? said(tried.reply) : TRY_PROBLEMS[tried.code]
		});
	}
};

const TRY_PROBLEMS = {
	nobody: 'Sign in as somebody who has a mail address.',
	'too-many': 'You have sent yourself many within the last hour. Try again later.',
	'no-answer': 'The mail server does not answer. Whoever runs this Stile finds in its log what was tried.'
};

function said(reply: string): string {
	return `The mail server did not take it: ${reply}`;
}

function problemWords(problem: PatternProblem, key: MailKey): string {
	if (problem.code === 'unreadable') return 'This cannot be read as a mail. Take out what you put in last.';
	const known = MAIL_NAMES[key].map((name) => `{${name}}`).join(', ');
	return `There is no {${problem.name}} in this mail. It may speak of ${known}.`;
}
