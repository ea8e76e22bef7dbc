/** Starts Stile from its build. Settings come from the environment, see docs/operations.md. */
import { createServer } from 'node:http';
import { existsSync } from 'node:fs';
import process from 'node:process';

const STOP_WITHIN_MS = 25_000;

const port = Number(process.env.STILE_PORT ?? 4100);
const host = process.env.STILE_HOST ?? '127.0.0.1';

// The kit reads these names when its handler is loaded.
if (process.env.STILE_ORIGIN) process.env.ORIGIN = process.env.STILE_ORIGIN.replace(/\/+$/, '');
process.env.BODY_SIZE_LIMIT = '1M';
// Set in front by Stile itself, whatever the request says.
process.env.ADDRESS_HEADER = 'x-stile-client';

function giveUp(message) {
	console.error(message);
	process.exit(1);
}

if (!existsSync('build/handler.js')) giveUp('Stile is not built yet. Run: npm ci && npm run build');

const { handler } = await import('./build/handler.js').catch((error) =>
	giveUp(
		error?.code === 'bad-settings' ? `Stile did not start. ${error.message}` : (error?.stack ?? String(error))
	)
);
const stile = globalThis[Symbol.for('stile.running')];
const { log } = stile.app;

const server = createServer((req, res) => {
	const answered = stile.front(req, res);
	if (answered === true) return;
	if (answered === false) handler(req, res);
	else
		answered.then(
			(hasAnswered) => hasAnswered || handler(req, res),
			(error) => {
				log.error({ err: error }, 'a request failed');
				if (res.headersSent) res.destroy();
				else res.writeHead(500).end();
			}
		);
});
// An upload may take hours.
server.requestTimeout = 0;
server.on('error', (error) =>
	giveUp(
		error.code === 'EADDRINUSE'
			? `Port ${port} is taken. Stop what uses it, or set STILE_PORT to another one.`
			: `Stile cannot listen on ${host}:${port}: ${error.message}`
	)
);
server.listen(port, host, () => log.info({ port, host, origin: process.env.STILE_ORIGIN }, 'Stile listens'));

let isStopping = false;
async function stop(signal) {
	if (isStopping) return;
	isStopping = true;
	log.info({ signal }, 'Stile stops: finishing what it serves');
	const deadline = setTimeout(() => server.closeAllConnections(), STOP_WITHIN_MS);
	await new Promise((resolve) => {
		server.close(resolve);
		server.closeIdleConnections();
	});
	clearTimeout(deadline);
	await stile.stop();
	log.info('Stile has stopped');
	process.exit(0);
}
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
