/** Tables as RFC 4180 has them: lines end in CRLF, fields with commas, quotes or line breaks stand in quotes. */
export function toCsv(rows: readonly (readonly string[])[]): string {
	return rows.map((row) => row.map(field).join(',') + '\r\n').join('');
}

export function csv(name: string, rows: readonly (readonly string[])[]): Response {
	return new Response(toCsv(rows), {
		headers: {
			'content-type': 'text/csv; charset=utf-8; header=present',
			'content-disposition': `attachment; filename="${name}.csv"`
		}
	});
}

function field(text: string): string {
	// A spreadsheet takes these for formulas; an apostrophe in front makes them text (common practice, no source).
	const safe = /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
	return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}
