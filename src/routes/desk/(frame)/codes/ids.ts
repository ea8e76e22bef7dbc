/** Ids that a form speaks of: of batches, in one field, or of what is ticked. */
export function idsIn(form: FormData, name = 'ids'): string[] {
	return form
		.getAll(name)
		.flatMap((value) => String(value).split(','))
		.filter((id) => /^[0-9a-f-]{36}$/.test(id));
}
