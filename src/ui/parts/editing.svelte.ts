/** An editor's form between two presses: what was changed in it, what it was answered, and whether that still counts. */
import type { SubmitFunction } from '@sveltejs/kit';

export class Editing {
	/** How often it was put back: what is keyed by it is made anew from what is kept. */
	version = $state(0);
	/** Put back since it was answered: what was typed, and what was said of it, counts no more. */
	isPutBack = $state(false);
	/** On its way to the server, whose answer may lead elsewhere. */
	isSent = $state(false);
	/** How often it was kept. The page shows what is kept by then. */
	kept = $state(0);
	/** The rehearsal that somebody said yes to, with what was kept last: by it, it can be taken back. */
	agreedTo = $state<string | null>(null);
	/** Labels of the fields that differ from what is kept. */
	changed = $state<string[]>([]);

	/** @param onPutBack puts back what the form does not hold itself */
	constructor(private readonly onPutBack: () => void = () => {}) {}

	/** For the form's `use:enhance`. */
	readonly submit: SubmitFunction = ({ formData }) => {
		const agreedTo = formData.get('agreedTo');
		this.isSent = true;
		return async ({ result, update }) => {
			this.isPutBack = false;
			// Whoever is led elsewhere has kept it.
			if (result.type === 'redirect') return update({ reset: false });
			await update({ reset: false }).finally(() => (this.isSent = false));
			if (result.type !== 'success') return;
			this.agreedTo = typeof agreedTo === 'string' ? agreedTo : null;
			this.kept++;
		};
	};

	/** The answer of a page, as far as it is to this form and still counts. */
	of<T>(form: T): T | null {
		return this.isPutBack ? null : form;
	}

	/** It was stopped before an answer came. */
	stop(): void {
		this.isSent = false;
	}

	putBack(): void {
		this.changed = [];
		this.isPutBack = true;
		this.onPutBack();
		this.version++;
	}
}

/** One for each thing that is edited on a page which stays for several. */
export function editingOf(_what: string): Editing {
	return new Editing();
}

/**
 * What an editor's form is given: what the page says, until something is typed, and again when that is kept or put back. A page
 * that is read anew in between would take away what is typed, or lay somebody else's change under it unseen.
 */
export function standing<T>(editing: () => Editing, now: () => T): { readonly current: T } {
	let of: Editing | null = null;
	let version = -1;
	let given: T;
	const current = $derived.by(() => {
		const own = editing();
		if (own !== of || own.version !== version || own.changed.length === 0) given = now();
		of = own;
		version = own.version;
		return given;
	});
	return {
		get current() {
			return current;
		}
	};
}
