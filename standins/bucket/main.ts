/**
 * The Bucket: an object store in small. It speaks the S3 protocol on a port of its own, and shows what it holds.
 *
 *   GET /   its objects      POST /gone   answers nothing any more, as a store that has failed; POST /back
 */
import { mkdirSync, readdirSync, statSync } from 'node:fs';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { join, relative } from 'node:path';
import S3rver from 's3rver';
import { escape, html, page, portFrom, redirect } from '../lib/page';

const port = portFrom('BUCKET_PORT');
const apiPort = portFrom('BUCKET_API_PORT');
const folder = process.env.BUCKET_FOLDER ?? '.stile/bucket';
const name = process.env.BUCKET_NAME ?? 'fernhollow';
mkdirSync(folder, { recursive: true });

const store = new S3rver({
	directory: folder,
	silent: true,
	allowMismatchedSignatures: true,
	configureBuckets: [{ name, configs: [] }]
});
await store.configureBuckets();
const answer = store.callback();
let isGone = false;
const open = new Set<ServerResponse>();

const api = createServer((req: IncomingMessage, res: ServerResponse) => {
	if (isGone) return void req.socket.destroy();
	open.add(res);
	res.on('close', () => open.delete(res));
	answer(req, res);
});

const shown = createServer((req, res) => {
	if (req.method === 'POST' && req.url === '/gone') {
		isGone = true;
		for (const one of open) one.destroy();
		return redirect(res, '/');
	}
	if (req.method === 'POST' && req.url === '/back') {
		isGone = false;
		return redirect(res, '/');
	}
	const rows = objects(join(folder, name)).map(
		({ key, bytes }) => `<tr><td>${escape(key)}</td><td>${bytes}</td></tr>`
	);
	html(
		res,
		page(
			'Bucket',
			`<h1>Bucket “${escape(name)}”</h1><p class="quiet">S3 protocol on port ${apiPort}. ${isGone ? 'It answers nothing at the moment.' : ''}</p>
<table><tr><th>Object</th><th>Bytes</th></tr>${rows.join('')}</table>
<form method="post" action="${isGone ? '/back' : '/gone'}"><p><button>${isGone ? 'Come back' : 'Fail from now on'}</button></p></form>`
		)
	);
});

/** s3rver keeps each object in a file of its name with an ending of its own. */
function objects(root: string): { key: string; bytes: number }[] {
	const found: { key: string; bytes: number }[] = [];
	const walk = (path: string) => {
		for (const entry of readdirSync(path, { withFileTypes: true })) {
			const at = join(path, entry.name);
			if (entry.isDirectory()) walk(at);
			else if (entry.name.endsWith('._S3rver_object'))
				found.push({ key: relative(root, at).replace('._S3rver_object', ''), bytes: statSync(at).size });
		}
	};
	walk(root);
	return found;
}

api.listen(apiPort, '127.0.0.1');
shown.listen(port, '127.0.0.1');
