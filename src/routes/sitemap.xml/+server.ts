import { labelAddresses } from '$server/http/label-list';
import { isKnownTo, listFor } from '$server/http/lists';
import { lookOf } from '$server/http/look';
import { decideAddress } from '$core/access/decide';
import type { RequestHandler } from './$types';

const MINUTE_MS = 60_000;

/** What a stranger may know of, whoever asks: search engines are strangers. Worked out once a minute at most. */
export const GET: RequestHandler = async ({ locals: { app } }) => {
	const minute = Math.floor(app.clock.business() / MINUTE_MS);
	return new Response(await app.rights.content(`site-map:${minute}`, () => siteMap(app)), {
		headers: { 'content-type': 'application/xml; charset=utf-8' }
	});
};

async function siteMap(app: App.Locals['app']): Promise<string> {
	const look = await lookOf(app, null, null, null);
	const items = await listFor(app, look, (item) => item.address !== null);
	const front = decideAddress(look.policy, look.viewer, '/', look.now);
	const paths = [
		...(isKnownTo(front) ? ['/'] : []),
		...(await labelAddresses(app, look, items)),
		'/plans',
		...items.map(({ address }) => address ?? '/')
	];
	const urls = paths.map((path) => `<url><loc>${escapeXml(app.settings.origin + path)}</loc></url>`);
	return `<?xml version="1.0" encoding="UTF-8"?>\n<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">${urls.join('')}</urlset>\n`;
}

function escapeXml(text: string): string {
	return text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}
