/** What the stand-ins' pages have in common: a frame, safe text, forms, JSON. */
import type { IncomingMessage, ServerResponse } from 'node:http';

const MAX_BODY_BYTES = 1 << 20;

export function escape(text: unknown): string {
	return String(text).replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}

export function page(title: string, body: string): string {
	return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>${escape(title)}</title><link rel="icon" href="data:,"><style>
body{font:16px/1.5 system-ui,sans-serif;color:#14212b;background:#eef2f1;margin:0;padding:1.5rem}
main{max-width:60rem;margin:auto;background:#fff;border:1px solid #c9d3d1;border-radius:4px;padding:1.5rem}
table{border-collapse:collapse;width:100%}th,td{text-align:left;padding:.35rem .6rem;border-top:1px solid #c9d3d1}
label{display:block;padding:.35rem 0}button{font:inherit;padding:.5rem 1rem;border:1px solid #14212b;border-radius:4px;background:#14212b;color:#fff}
h1{margin-top:0;font-size:1.4rem}iframe{width:100%;height:24rem;border:1px solid #c9d3d1}.quiet{color:#5d6b75}
</style></head><body><main>${body}</main></body></html>`;
}

export function html(res: ServerResponse, body: string, status = 200): void {
	res
		.writeHead(status, { 'content-type': 'text/html; charset=utf-8', 'cache-control': 'no-store' })
		.end(body);
}

export function json(res: ServerResponse, body: unknown, status = 200): void {
	res
		.writeHead(status, { 'content-type': 'application/json', 'cache-control': 'no-store' })
		.end(JSON.stringify(body));
}

export function redirect(res: ServerResponse, location: string): void {
	res.writeHead(303, { location }).end();
}

export async function bodyOf(req: IncomingMessage): Promise<string> {
	const chunks: Buffer[] = [];
	let bytes = 0;
	for await (const chunk of req as AsyncIterable<Buffer>) {
		bytes += chunk.length;
		if (bytes > MAX_BODY_BYTES) throw new Error('The body is too large');
		chunks.push(chunk);
	}
	return Buffer.concat(chunks).toString('utf8');
}

export async function formOf(req: IncomingMessage): Promise<URLSearchParams> {
	return new URLSearchParams(await bodyOf(req));
}

/** The port as a number; a stand-in is started by a script that names it. */
export function portFrom(name: string): number {
	const port = Number(process.env[name]);
	if (!Number.isInteger(port)) throw new Error(`Set ${name} to a port`);
	return port;
}
