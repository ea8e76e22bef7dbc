/** Ids of the batches that a form speaks of, in one field. */
export function idsIn(form: FormData): string[] {
	return String(form.get('ids') ?? '')
		.split(',')
		.filter((id) => /^[0-9a-f-]{36}$/.test(id));
}
