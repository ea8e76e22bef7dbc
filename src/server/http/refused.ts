/** What the hook refuses before a page could: a small page with the site's name and a way on, or data that says the same. */
import type { RequestEvent } from '@sveltejs/kit';
import { running } from '../instance';

const TITLES: Record<number, string> = { 403: 'Not for this account', 404: 'Not found' };

export async function refused(
	{ request, isDataRequest }: Pick<RequestEvent, 'request' | 'isDataRequest'>,
	status: 400 | 403 | 404 | 405,
	message: string
): Promise<Response> {
	const headers = { 'cache-control': 'private, no-store' };
	if (isDataRequest || !request.headers.get('accept')?.includes('text/html'))
		return Response.json({ type: 'error', error: { message }, status }, { status, headers });
	const { siteName } = await running().app.site();
	const title = TITLES[status] ?? 'A problem';
	const page = `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escapeHtml(title)} · ${escapeHtml(siteName)}</title><style>
:root{color-scheme:light dark}body{font:1rem/1.5 system-ui,sans-serif;max-width:36rem;margin:4rem auto;padding:0 1rem}
</style></head><body><p><a href="/">${escapeHtml(siteName)}</a></p><main><h1>${escapeHtml(title)}</h1><p>${escapeHtml(message)}</p></main></body></html>`;
	return new Response(page, { status, headers: { ...headers, 'content-type': 'text/html; charset=utf-8' } });
}

function escapeHtml(text: string): string {
	return text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}
