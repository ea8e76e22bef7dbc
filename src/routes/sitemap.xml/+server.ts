import { siteMap } from '$server/reads/front/site-map';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ locals: { app } }) => {
	const urls = (await siteMap(app)).map(
		(path) => `<url><loc>${escapeXml(app.settings.origin + path)}</loc></url>`
	);
	const text = `<?xml version="1.0" encoding="UTF-8"?>\n<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">${urls.join('')}</urlset>\n`;
	return new Response(text, { headers: { 'content-type': 'application/xml; charset=utf-8' } });
};

function escapeXml(text: string): string {
	return text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}
