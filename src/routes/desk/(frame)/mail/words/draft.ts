import { NO_PERMISSIONS } from '$core/staff/permissions';
import type { Draft } from '$server/mail/preview';
import { mailTextProblem } from '$server/usecases/running/save-mail-text';
import type { PatternProblem } from '$words/say';
import type { DraftForm } from './form';

type DraftRead = { ok: true; draft: Draft } | { ok: false; problem: PatternProblem };

/** Words as they were typed. An order is looked at by whoever may see members. */
export function draftOf(
	viewer: App.Locals['viewer'],
	{ occasion: key, language, number, ...words }: DraftForm
): DraftRead {
	const text = { ...words, text: words.text.replaceAll('\r\n', '\n') };
	const wrong = mailTextProblem(key, language, text);
	if (wrong) return { ok: false, problem: wrong.problem };
	const maySeeMembers = (viewer?.permissions ?? NO_PERMISSIONS).has('members');
	return { ok: true, draft: { key, language, text, number: maySeeMembers ? number : '' } };
}
