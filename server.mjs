/** Starts Stile from its build. Settings come from the environment, see docs/operations.md. */
import { createServer } from 'node:http';
import { existsSync } from 'node:fs';
import { readdir } from 'node:fs/promises';
import process from 'node:process';
import { inspect } from 'node:util';
import compression from 'compression';

/** What downloads may still take. */
const STOP_WITHIN_MS = 8000;
/** A start that is asked to stop may come to its end. */
const START_ENDS_WITHIN_MS = 10_000;
const HEADERS_WITHIN_MS = 15_000;
/** Some 20 KB each. */
const MOST_CONNECTIONS = 5000;

const port = Number(process.env.STILE_PORT ?? 4100);
const host = process.env.STILE_HOST ?? '127.0.0.1';

// The kit reads these names when its handler is loaded.
if (process.env.STILE_ORIGIN) process.env.ORIGIN = process.env.STILE_ORIGIN.replace(/\/+$/, '');
process.env.BODY_SIZE_LIMIT = '1M';
// Set in front by Stile itself, whatever the request says.
process.env.ADDRESS_HEADER = 'x-stile-client';

// Heard from the first moment: also while the database is migrated, which goes on from where it was at the next start.
let wasAskedToStop = null;
let stopNow = (signal) => {
	wasAskedToStop = signal;
	setTimeout(() => giveUp(`Stopped by ${signal} while it was starting.`), START_ENDS_WITHIN_MS).unref();
};
process.on('SIGTERM', (signal) => stopNow(signal));
process.on('SIGINT', (signal) => stopNow(signal));

function giveUp(message) {
	console.error(message);
	process.exit(1);
}

if (!existsSync('build/handler.js')) giveUp('Stile is not built yet. Run: npm ci && npm run build');

const { handler } = await import('./build/handler.js').catch((error) =>
	giveUp(
		error?.code === 'bad-settings' || error?.code === 'migration-failed'
			? `Stile did not start. ${error.message}`
			: inspect(error)
	)
);
// What pages are drawn with: the kit reads it when somebody asks for the first of a kind, who would wait for it.
const PAGES = 'build/server/chunks/entries';
for (const name of await readdir(PAGES, { recursive: true }).catch(() => []))
	if (name.endsWith('.js')) await import(`./${PAGES}/${name}`);

const stile = globalThis[Symbol.for('stile.running')];
const { log } = stile.app;

/** Pages and their data are compressed; bytes are sent by the front, as they are. */
const compress = compression({
	filter: (_req, res) =>
		/^(?:text\/html|application\/json|text\/csv|application\/xml)\b/.test(
			String(res.getHeader('content-type'))
		)
});
const page = (req, res) => compress(req, res, () => handler(req, res));

const server = createServer((req, res) => {
	const answered = stile.front(req, res);
	if (answered === true) return;
	if (answered === false) page(req, res);
	else
		answered.then(
			(hasAnswered) => hasAnswered || page(req, res),
			(error) => {
				log.error({ err: error }, 'a request failed');
				if (res.headersSent) res.destroy();
				else res.writeHead(500).end();
			}
		);
});
// An upload may take hours; other bodies have an end of their own (src/server/http/bodies.ts).
server.requestTimeout = 0;
server.headersTimeout = HEADERS_WITHIN_MS;
server.maxConnections = MOST_CONNECTIONS;
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
	// Players ask again elsewhere; downloads have a little time, and are resumed where they break off.
	stile.endWatches();
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
stopNow = (signal) => void stop(signal);
if (wasAskedToStop) stopNow(wasAskedToStop);
