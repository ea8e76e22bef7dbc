/** An editor's form between two presses: what it was answered, and whether that still counts. */
import type { ActionResult, SubmitFunction } from '@sveltejs/kit';

export class Editing {
	/** How often it was put back: what is keyed by it is made anew from what is kept. */
	version = $state(0);
	/** Put back since it was answered: what was typed, and what was said of it, counts no more. */
	isPutBack = $state(false);
	/** On its way to the server, whose answer may lead elsewhere. */
	isSent = $state(false);
	/** How often it was kept. */
	kept = $state(0);

	/** @param onPutBack puts back what the form does not hold itself */
	constructor(private readonly onPutBack: () => void = () => {}) {}

	/** For the form's `use:enhance`. */
	readonly submit: SubmitFunction = () => {
		this.isSent = true;
		return async ({ result, update }) => {
			this.answered(result);
			await update({ reset: false });
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
		this.version++;
		this.isPutBack = true;
		this.onPutBack();
	}

	private answered({ type }: ActionResult): void {
		this.isPutBack = false;
		// Whoever is led elsewhere has kept it.
		if (type !== 'redirect') this.isSent = false;
		if (type === 'success') this.kept++;
	}
}

/** One for each thing that is edited on a page which stays for several. */
export function editingOf(_what: string): Editing {
	return new Editing();
}
