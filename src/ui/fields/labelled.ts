/** What every field of the Desk can be told. */
export interface Labelled {
	label: string;
	/** Under which it is sent with its form. Left out: what it holds is sent otherwise. */
	name?: string | undefined;
	/** For a second field of the same name on a page, and for what is led to from a summary of errors. */
	id?: string | undefined;
	hint?: string | null | undefined;
	/** Messages of the form, by name of their field. */
	errors?: Record<string, string[]> | undefined;
	/** Where the words around it name it already. */
	hidesLabel?: boolean | undefined;
}

/** What a control is handed by its field. */
export interface Ties {
	id: string;
	labelId: string;
	isWrong: boolean;
	describedBy: string | undefined;
}

/** Choices of things that have a name. */
export function optionsOf(things: readonly { id: string; name: string }[]): Option[] {
	return things.map(({ id, name }) => ({ value: id, label: name }));
}

export interface Option {
	value: string;
	label: string;
	/** What tells it from others of the same name. */
	detail?: string;
}
