/**
 * Playlists and keys a second from the built server on loopback, as a member who plays a film. The limit that they are
 * measured against is the health check of the same server: an answer that decides nothing.
 */
import { launch, portsFrom } from '../scripts/lib/launch.mjs';
import { load } from './lib/load';
import { report, rounded } from './lib/report';
import { makeShop } from './lib/shop';

const FOLDER = '.stile/bench';

const world = await launch({
	folder: FOLDER,
	ports: portsFrom(4300),
	isFresh: true,
	say: (_name, work) => work()
});
try {
	const cookie = await makeShop(world.settings, FOLDER);
	await world.startStile();
	const front = world.settings.STILE_ORIGIN ?? '';
	const page = await (await fetch(`${front}/videos/wheel`, { headers: { cookie } })).text();
	const master = /\/media\/stream\/[\w.-]+\/master\.m3u8/.exec(page)?.[0];
	if (!master) throw new Error('The page shows no stream');
	const folder = front + master.replace('master.m3u8', '');
	const playlists = await load(`${folder}v0/index.m3u8`, cookie);
	const keys = await load(`${folder}v0/0.key`, cookie);
	const health = await load(`${front}/healthz`, null);
	report('playlists', {
		playlistsPerSecond: playlists.requestsPerSecond,
		keysPerSecond: keys.requestsPerSecond,
		healthPerSecond: health.requestsPerSecond,
		playlistRatio: rounded(playlists.requestsPerSecond / health.requestsPerSecond),
		keyRatio: rounded(keys.requestsPerSecond / health.requestsPerSecond)
	});
} finally {
	await world.stop();
}
