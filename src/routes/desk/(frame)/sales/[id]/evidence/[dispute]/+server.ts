import { error } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { evidenceOf } from '$server/reads/desk/evidence';
import type { RequestHandler } from './$types';

const ID = /^[0-9a-f-]{36}$/;

/** What speaks for the publisher in a dispute, as a file to send to whoever decides. */
export const GET: RequestHandler = async ({ locals: { app, viewer }, params }) => {
	// It says what a member has opened, and from where.
	if (!viewer?.permissions.has('members')) error(404, NO_SUCH_PAGE);
	const isAsked = ID.test(params.id) && ID.test(params.dispute);
	const evidence = isAsked ? await evidenceOf(app, params.id, params.dispute) : null;
	if (!evidence) error(404, NO_SUCH_PAGE);
	const bytes = await app.papers.report(evidence.report, evidence.at);
	return new Response(new Uint8Array(bytes), {
		headers: {
			'content-type': 'application/pdf',
			'content-disposition': `attachment; filename="evidence-${evidence.orderNumber}.pdf"`,
			'cache-control': 'private, no-store'
		}
	});
};
