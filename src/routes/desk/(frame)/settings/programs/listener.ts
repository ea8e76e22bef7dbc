/** The form of a program that is told, read and answered. */
import { fieldError, parse, type FieldErrors, type Values } from '$server/http/parse';
import type { ListenerProblem, ListenerWish } from '$server/usecases/running/listeners';
import { ListenerForm } from '../form';

const PROBLEMS: Record<ListenerProblem, [field: string, message: string]> = {
	'not-an-address': [
		'url',
		'Type a whole address, such as https://list.example/told, without a password in it.'
	],
	'not-secret': [
		'url',
		'Names and addresses of members travel by it: give an address that begins with https://.'
	],
	'nothing-to-tell': ['events', 'Choose at least one thing that it is told.'],
	'unknown-plan': ['planIds', 'Choose plans from the list.']
};

export async function readListener(
	form: FormData
): Promise<{ ok: true; wish: ListenerWish } | { ok: false; errors: FieldErrors; values: Values }> {
	const parsed = await parse(ListenerForm, form);
	if (!parsed.ok) return parsed;
	const { listenerName: name, url, events, planIds } = parsed.data;
	return { ok: true, wish: { name, url, events, planIds: planIds.length === 0 ? null : planIds } };
}

export function listenerProblem(form: FormData, code: ListenerProblem) {
	return fieldError(form, ...PROBLEMS[code]);
}
