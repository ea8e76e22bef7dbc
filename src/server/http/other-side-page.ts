/**
 * A page of the front as the other side shows it: every way on stays on the other side, and nothing runs or is sent.
 * Scripts are taken out, so that the page only reads.
 */
export function asOtherSide(prefix: string): (input: { html: string }) => string {
	return ({ html }) =>
		html
			.replace(/<script\b[^>]*>[\s\S]*?<\/script>/g, '')
			.replace(/<link[^>]*rel="modulepreload"[^>]*>/g, '')
			.replace(/(<a\b[^>]*\shref=")(\/(?!\/)[^"]*)"/g, (_whole, before: string, path: string) =>
				path.startsWith('/desk') ? `${before}${path}" target="_top"` : `${before}${prefix}${path}"`
			);
}
