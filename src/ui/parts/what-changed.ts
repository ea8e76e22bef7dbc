/** What somebody has changed in a form, by the words of its fields; and drafts of it on this device. */

import { PUT_IN } from '../fields/put-in';

export type Holdings = Map<string, string[]>;

/** What a form would send, by name; files by name and size. */
export function holdingsOf(form: HTMLFormElement): Holdings {
	const held: Holdings = new Map();
	for (const [name, value] of new FormData(form)) {
		const text = typeof value === 'string' ? value : `${value.name} ${value.size}`;
		held.set(name, [...(held.get(name) ?? []), text]);
	}
	return held;
}

/** Names of what differs, whichever of the two has it. The order of several of one name says nothing. */
export function differing(
	before: ReadonlyMap<string, readonly string[]>,
	now: ReadonlyMap<string, readonly string[]>
): string[] {
	const said = (values: readonly string[] | undefined) => JSON.stringify([...(values ?? [])].sort());
	return [...new Set([...before.keys(), ...now.keys()])].filter(
		(name) => said(before.get(name)) !== said(now.get(name))
	);
}

/** @returns the label of the field that sends `name`; `null` where no field does, so that nobody has changed it */
export function labelIn(form: HTMLFormElement, name: string): string | null {
	const field = form.querySelector<HTMLElement>(`[data-field="${CSS.escape(name)}"]`);
	return field?.dataset.label ?? null;
}

/** What a form holds once it is kept: what it sent, but for fields that are empty then, as they say (`data-rest`). */
export function atRest(form: HTMLFormElement, sent: ReadonlyMap<string, string[]>): Holdings {
	const held = new Map(sent);
	for (const { dataset } of form.querySelectorAll<HTMLElement>('[data-field][data-rest]'))
		held.set(dataset.field ?? '', [dataset.rest ?? '']);
	return held;
}

interface Draft {
	held: [string, string[]][];
	labels: string[];
	/** What is chosen is called, of fields that send an id. */
	words?: [string, string][];
}

const PREFIX = 'stile-draft ';
const keyOf = (of: string) => PREFIX + of;

/** Keeps on this device what differs. Secrets and files are not kept. */
export function remember(of: string, form: HTMLFormElement, names: readonly string[]): void {
	const held = holdingsOf(form);
	const kept = names.filter((name) => labelIn(form, name) !== null && canBePutIn(form, name));
	const draft: Draft = {
		held: kept.map((name) => [name, held.get(name) ?? []]),
		labels: kept.map((name) => labelIn(form, name) ?? name),
		words: kept.flatMap((name): [string, string][] => {
			const said = firstOf(form, name)?.dataset.words;
			return said === undefined ? [] : [[name, said]];
		})
	};
	try {
		localStorage.setItem(keyOf(of), JSON.stringify(draft));
	} catch {
		// Full, or not allowed: then it is not kept.
	}
}

function canBePutIn(form: HTMLFormElement, name: string): boolean {
	const first = firstOf(form, name);
	if (!(first instanceof HTMLInputElement)) return first instanceof HTMLTextAreaElement;
	return first.type === 'hidden' ? first.dataset.putIn === 'yes' : !/^(?:password|file)$/.test(first.type);
}

function firstOf(form: HTMLFormElement, name: string): HTMLElement | null {
	const named = form.elements.namedItem(name);
	const first = named instanceof RadioNodeList ? named[0] : named;
	return first instanceof HTMLElement ? first : null;
}

/** What was typed and not kept, where it differs from what stands there now; `null` for nothing. */
export function recall(
	of: string,
	now: ReadonlyMap<string, readonly string[]>
): { held: Holdings; labels: string[]; words: Map<string, string> } | null {
	try {
		const draft = JSON.parse(localStorage.getItem(keyOf(of)) ?? 'null') as Draft | null;
		if (!draft) return null;
		const held = new Map(draft.held);
		const rest = new Map([...now].filter(([name]) => held.has(name)));
		return differing(rest, held).length === 0
			? null
			: { held, labels: draft.labels, words: new Map(draft.words) };
	} catch {
		return null;
	}
}

export function forget(of: string): void {
	try {
		localStorage.removeItem(keyOf(of));
	} catch {
		// Not allowed: then there is nothing to forget.
	}
}

/** Whoever signs out leaves nothing of theirs on the device. */
export function forgetAll(): void {
	try {
		for (const key of Object.keys(localStorage)) if (key.startsWith(PREFIX)) localStorage.removeItem(key);
	} catch {
		// Not allowed: then there is nothing to forget.
	}
}

/** Puts into a form's fields what was typed into them before. @param words what is chosen is called, told behind its id */
export function putIn(
	form: HTMLFormElement,
	held: ReadonlyMap<string, readonly string[]>,
	words: ReadonlyMap<string, string>
): void {
	for (const element of [...form.elements]) {
		if (!(element instanceof HTMLInputElement || element instanceof HTMLTextAreaElement)) continue;
		const values = held.get(element.name);
		if (!values) continue;
		if (element.type === 'hidden') {
			const said = words.get(element.name);
			const detail = said === undefined ? values : [...values, said];
			element.dispatchEvent(new CustomEvent(PUT_IN, { detail }));
		} else {
			element.value = values[0] ?? '';
			element.dispatchEvent(new Event('input', { bubbles: true }));
		}
	}
}
