/** What the hook refuses before a page could: a small page with the site's name and a way on, or data that says the same. */
import type { RequestEvent } from '@sveltejs/kit';
import type { FrontKey } from '$words/en/front';
import { frontWords } from '$words/front';
import { running } from '../instance';

const TITLES: Record<number, FrontKey> = { 403: 'error.not-yours', 404: 'error.not-found' };

export async function refused(
	{
		request,
		isDataRequest,
		url,
		locals
	}: Pick<RequestEvent, 'request' | 'isDataRequest' | 'url'> & { locals: Partial<App.Locals> },
	status: 400 | 403 | 404 | 405 | 507,
	/** In words, or a key of the front's. */
	said: string,
	wayOn: { href: string; label: string } = { href: '/', label: 'error.to-front' }
): Promise<Response> {
	const { siteName, language } = await running().app.site();
	// The Desk is in English.
	const code = url.pathname.startsWith('/desk') ? 'en' : (locals.language ?? language);
	const words = frontWords(code);
	const message = words.maybe(said);
	const headers = { 'cache-control': 'private, no-store' };
	if (isDataRequest || !request.headers.get('accept')?.includes('text/html'))
		return Response.json({ type: 'error', error: { message }, status }, { status, headers });
	const title = words.say(TITLES[status] ?? 'error.problem');
	// The colours of the theme, which this page is sent without.
	const page = `<!doctype html><html lang="${code}"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escapeHtml(title)} · ${escapeHtml(siteName)}</title><style>
:root{color-scheme:light dark;--ink:#14212b;--ground:#eef2f1;--sheet:#fff;--line:#c9d3d1;--moss:#2c6650}
@media(prefers-color-scheme:dark){:root{--ink:#e6edeb;--ground:#10171b;--sheet:#192227;--line:#35444a;--moss:#86c9ab}}
@media print{:root{--ink:#000;--ground:#fff;--sheet:#fff}}
body{font:1rem/1.5 system-ui,sans-serif;margin:0;color:var(--ink);background:var(--ground)}a{color:var(--moss)}
header{padding:.9rem 1.25rem;background:var(--sheet);border-bottom:1px solid var(--line)}header a{color:inherit;text-decoration:none;font-weight:600;font-size:1.125rem}
main{max-width:34rem;margin:3rem auto;padding:1.75rem 1.5rem;background:var(--sheet);border:1px solid var(--line);border-radius:4px;box-sizing:border-box}
h1{font-size:1.5rem;margin:0 0 .5rem}
</style></head><body><header><a href="/">${escapeHtml(siteName)}</a></header><main><h1>${escapeHtml(title)}</h1><p>${escapeHtml(message)}</p><p><a href="${wayOn.href}">${escapeHtml(words.maybe(wayOn.label))}</a></p></main></body></html>`;
	return new Response(page, { status, headers: { ...headers, 'content-type': 'text/html; charset=utf-8' } });
}

function escapeHtml(text: string): string {
	return text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}
