/**
 * Elsewhere: a small web site that is not Stile's. It shows a film of Stile in a frame, or what is sold there, has a recording
 * of its own, and keeps a mailing list of whom Stile tells it.
 *
 *   GET /?film=<item>   a page with the film      GET /prices    a page with what is sold
 *   GET /sounds/tick.wav   with ranges            GET /private   sends to a private address
 *   POST /told   who joined and left, signed      GET /list      the list, and what it answers
 */
import { createServer } from 'node:http';
import { answerTold, listPage, setList } from './list';
import { escape, html, page, portFrom } from '../lib/page';

const port = portFrom('ELSEWHERE_PORT');
const stile = process.env.ELSEWHERE_STILE ?? '';
const RATE = 8000;
const SECONDS = 4;

const sound = tick();

const server = createServer((req, res) => {
	const url = new URL(req.url ?? '/', `http://${req.headers.host ?? 'localhost'}`);
	if (url.pathname === '/sounds/tick.wav') return send(req.headers.range, res);
	if (url.pathname === '/told' && req.method === 'POST') return void answerTold(req, res);
	if (url.pathname === '/list') return void (req.method === 'POST' ? setList(req, res) : listPage(res));
	if (url.pathname === '/private')
		return void res.writeHead(302, { location: 'http://169.254.169.254/' }).end();
	if (url.pathname === '/prices')
		return html(
			res,
			page(
				'Elsewhere',
				`<h1>A page of another site</h1>
<iframe src="${escape(stile)}/embed/plans" title="Plans" style="width:100%;height:32rem;border:0"></iframe>`
			)
		);
	const film = url.searchParams.get('film') ?? '';
	html(
		res,
		page(
			'Elsewhere',
			`<h1>A page of another site</h1><p>It is called ${escape(url.host)}. Below stands a film of the clock school.</p>
<div data-stile-film="${escape(film)}" data-title="A film of the clock school"></div>
<script src="${escape(stile)}/embed.js"></script>`
		)
	);
});

function send(range: string | undefined, res: import('node:http').ServerResponse): void {
	const asked = /^bytes=(\d+)-(\d*)$/.exec(range ?? '');
	const first = Number(asked?.[1] ?? 0);
	const last = Math.min(sound.length - 1, asked?.[2] ? Number(asked[2]) : sound.length - 1);
	const headers = {
		'content-type': 'audio/wav',
		'accept-ranges': 'bytes',
		'content-length': last - first + 1,
		'last-modified': new Date(0).toUTCString()
	};
	if (asked) res.writeHead(206, { ...headers, 'content-range': `bytes ${first}-${last}/${sound.length}` });
	else res.writeHead(200, headers);
	res.end(sound.subarray(first, last + 1));
}

/** A clock that ticks, as WAV. */
function tick(): Buffer {
	const samples = RATE * SECONDS;
	const wav = Buffer.alloc(44 + samples * 2);
	wav.write('RIFF', 0);
	wav.writeUInt32LE(36 + samples * 2, 4);
	wav.write('WAVEfmt ', 8);
	wav.writeUInt32LE(16, 16);
	wav.writeUInt16LE(1, 20);
	wav.writeUInt16LE(1, 22);
	wav.writeUInt32LE(RATE, 24);
	wav.writeUInt32LE(RATE * 2, 28);
	wav.writeUInt16LE(2, 32);
	wav.writeUInt16LE(16, 34);
	wav.write('data', 36);
	wav.writeUInt32LE(samples * 2, 40);
	for (let n = 0; n < samples; n++) {
		const within = (n % RATE) / RATE;
		const height = within < 0.02 ? Math.sin(n * 0.9) * (1 - within / 0.02) : 0;
		wav.writeInt16LE(Math.round(height * 16_000), 44 + n * 2);
	}
	return wav;
}

server.listen(port, '127.0.0.1');
