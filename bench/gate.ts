/**
 * The built server on loopback: requests a second, and the 95th percentile at 100 requests a second, for a notice page
 * as a stranger and for a playlist, a key and a segment as a member.
 */
import { launch, portsFrom } from '../scripts/lib/launch.mjs';
import { load } from './lib/load';
import { report } from './lib/report';
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
	const front = world.settings.STILE_ORIGIN;
	const page = await (await fetch(`${front}/videos/wheel`, { headers: { cookie } })).text();
	const master = /\/media\/stream\/[\w.-]+\/master\.m3u8/.exec(page)?.[0];
	if (!master) throw new Error('The page shows no stream');
	const folder = front + master.replace('master.m3u8', '');
	const notice = await load(`${front}/videos/wheel`, null);
	const playlist = await load(`${folder}v0/index.m3u8`, cookie);
	const key = await load(`${folder}v0/0.key`, cookie);
	const segment = await load(`${folder}v0/0.m4s`, cookie);
	report('gate', { notice, playlist, key, segment });
} finally {
	await world.stop();
}
