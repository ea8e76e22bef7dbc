import { error, redirect } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { documentPage, paperOf } from '$server/reads/front/documents';
import type { RequestHandler } from './$types';

/** The document as a file that is printed and filed. */
export const GET: RequestHandler = async ({ locals: { app, viewer }, params, url }) => {
	if (!viewer) redirect(303, `/sign-in?next=${encodeURIComponent(url.pathname)}`);
	const document = await documentPage(app, params.number, viewer);
	if (!document) error(404, NO_SUCH_PAGE);
	const bytes = await app.papers.pdf(await paperOf(app, document), document.issuedAt);
	return new Response(new Uint8Array(bytes), {
		headers: {
			'content-type': 'application/pdf',
			'content-disposition': `attachment; filename="${document.number}.pdf"`,
			'cache-control': 'private, no-store'
		}
	});
};
