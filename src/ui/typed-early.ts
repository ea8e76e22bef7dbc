import { tick } from 'svelte';

/**
 * What somebody typed, chose, pressed or sent while the page's scripts were still on their way: they put fields back to what
 * the server sent, and so it is given back once they run. `app.html` notes it from the first moment on.
 */

interface Noting {
	/** Ends the noting. */
	typedEarly?: () => {
		/** By field: its text, or whether it is ticked. */
		typed: Map<EventTarget, string | boolean | undefined>;
		/** Buttons that send nothing, in their order: choices, switches, what opens something. */
		clicked: HTMLButtonElement[];
		/** Forms that were sent, in their order. */
		pressed: { form: HTMLFormElement; by: HTMLElement | null }[];
	};
}

/** Whatever of these it is: what is used here, all of them have. */
type Field = HTMLInputElement;

export function giveBackTypedEarly(): void {
	const noted = (window as Noting).typedEarly?.();
	delete (window as Noting).typedEarly;
	if (!noted) return;
	for (const [target, typed] of noted.typed) {
		const field = target as Field;
		// A text that is laid out, and no field, has no value.
		if (typed === undefined || !field.isConnected) continue;
		if (typeof typed === 'boolean') field.checked = typed;
		// A file cannot be put back by a script, and is not taken away by one either.
		else if (field.type !== 'file' && field.value !== typed) field.value = typed;
		// Whoever is bound to it hears of it.
		field.dispatchEvent(new Event('input', { bubbles: true }));
		field.dispatchEvent(new Event('change', { bubbles: true }));
	}
	for (const button of noted.clicked) if (button.isConnected) button.click();
	// The last press of each is the one that is meant.
	const sent = new Map(noted.pressed.map(({ form, by }) => [form, by]));
	// What the presses have changed has to be in the form that goes off.
	void tick().then(() => {
		for (const [form, by] of sent) if (form.isConnected) form.requestSubmit(by);
	});
}
