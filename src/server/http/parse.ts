/**
 * Text from outside, parsed once at the rim: `parse(Class, form)` gives an instance of a class whose fields carry
 * class-validator's rules, or messages by field together with what was typed.
 */
import { error } from '@sveltejs/kit';
import { validate, type ValidationError } from 'class-validator';
import { frontError } from './front-error';

export type FieldErrors = Record<string, string[]>;
export type Values = Record<string, string | string[]>;
export type Parsed<T> = { ok: true; data: T } | { ok: false; errors: FieldErrors; values: Values };

/** Never sent back to the page. */
const SECRET_FIELDS = new Set(['password', 'current', 'currentForAddress']);

/** More fields than any form of the front has; the Desk's name many items at once. */
const MOST_FIELDS = 300;
const MOST_FIELDS_OF_DESK = 20_000;

/** Reads a form once and in one pass. What no form of this site could send is refused before it is looked at. */
export async function readForm(request: Request): Promise<FormData> {
	let form: FormData;
	try {
		form = await request.formData();
	} catch {
		error(400, frontError('error.unreadable-form'));
	}
	const most = new URL(request.url).pathname.startsWith('/desk/') ? MOST_FIELDS_OF_DESK : MOST_FIELDS;
	let fields = 0;
	for (const _ of form.keys()) if (++fields > most) error(413, frontError('error.too-many-fields'));
	return form;
}

export async function parse<T extends object>(Form: new () => T, form: FormData): Promise<Parsed<T>> {
	const data = new Form();
	for (const field of Object.keys(data)) {
		if (!form.has(field)) continue;
		const texts = textsOf(form, field);
		const isList = Array.isArray(data[field as keyof T]);
		// Passwords are taken as typed; everywhere else, space around a text is an accident.
		const clean = SECRET_FIELDS.has(field) ? texts : texts.map((text) => text.trim());
		Object.assign(data, { [field]: isList ? clean.filter((text) => text !== '') : (clean[0] ?? '') });
	}
	const found = await validate(data, { whitelist: true, forbidUnknownValues: true });
	// A plain object: what goes back to a page has to be one.
	if (found.length === 0) return { ok: true, data: { ...data } };
	return { ok: false, errors: messages(found), values: typed(form) };
}

/** The revision that an editor began with, or the one that somebody chose to save over. */
export function begunWith(form: FormData): string | null {
	const value = String(form.get('overwrite') ?? form.get('revision') ?? '');
	return value === '' ? null : value;
}

/** The rehearsal that a form says yes to. */
export function agreedTo(form: FormData): string | null {
	const value = String(form.get('agreedTo') ?? '');
	return /^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(value) ? value : null;
}

/** class-validator gives the lowest decorator first; the first message is the one to show. */
function messages(found: ValidationError[]): FieldErrors {
	return Object.fromEntries(
		found.map(({ property, constraints = {} }) => [property, Object.values(constraints).slice(0, 1)])
	);
}

/** A refusal of a use case, at its field. */
export function fieldError(
	form: FormData,
	field: string,
	message: string
): { errors: FieldErrors; values: Values } {
	return { errors: { [field]: [message] }, values: typed(form) };
}

/** What was typed, for the page to show again. */
function typed(form: FormData): Values {
	const values: Values = {};
	for (const field of new Set(form.keys())) {
		if (SECRET_FIELDS.has(field)) continue;
		const texts = textsOf(form, field);
		values[field] = texts.length > 1 ? texts : (texts[0] ?? '');
	}
	return values;
}

function textsOf(form: FormData, field: string): string[] {
	return form.getAll(field).filter((value) => typeof value === 'string');
}
