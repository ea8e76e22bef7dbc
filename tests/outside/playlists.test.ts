/** Playlists against RFC 8216, read back by `hls-parser`, a reader that is not ours. */
import * as HLS from 'hls-parser';
import { expect, it, test } from 'vitest';
import { masterPlaylist, mediaPlaylist, PLAYLIST_TYPE } from '$core/media/playlist';
import { seal } from '$server/usecases/library/seal';
import { firstSeconds, SEGMENTS_PER_KEY, type PreparedStream } from '$core/media/stream';

const lengths = [2, 2, 2, 2, 2, 2, 1.4];
const stream: PreparedStream = {
	variants: [
		{
			id: 'v0',
			kind: 'video',
			codecs: 'avc1.640020',
			bitsPerSecond: 900_000,
			width: 1280,
			height: 720,
			segmentSeconds: lengths
		},
		{
			id: 'v1',
			kind: 'video',
			codecs: 'avc1.64001e',
			bitsPerSecond: 300_000,
			width: 640,
			height: 360,
			segmentSeconds: lengths
		},
		{
			id: 'a',
			kind: 'audio',
			codecs: 'mp4a.40.2',
			bitsPerSecond: 128_000,
			width: null,
			height: null,
			segmentSeconds: lengths
		}
	]
};

it('reads the master playlist back: two pictures, each with its sound and codecs', () => {
	const read = HLS.parse(masterPlaylist(stream)) as HLS.types.MasterPlaylist;
	expect(read.isMasterPlaylist).toBe(true);
	expect(read.independentSegments).toBe(true);
	expect(read.variants.map(({ uri, codecs, resolution }) => [uri, codecs, resolution?.height])).toEqual([
		['v0/index.m3u8', 'avc1.640020,mp4a.40.2', 720],
		['v1/index.m3u8', 'avc1.64001e,mp4a.40.2', 360]
	]);
	expect(read.variants[0]?.audio[0]?.uri).toBe('a/index.m3u8');
});

it('reads a media playlist back: the map stands clear, a key for each group, no segment longer than the target', () => {
	const read = HLS.parse(mediaPlaylist(stream.variants[0]!)) as HLS.types.MediaPlaylist;
	expect(read.endlist).toBe(true);
	expect(read.playlistType).toBe('VOD');
	expect(read.segments).toHaveLength(lengths.length);
	// RFC 8216 §4.3.3.1
	for (const { duration } of read.segments)
		expect(Math.round(duration)).toBeLessThanOrEqual(read.targetDuration);
	expect(read.segments[0]?.map?.uri).toBe('init.mp4');
	expect(read.segments.map(({ key }) => key?.uri)).toEqual(
		lengths.map((_, n) => `${Math.floor(n / SEGMENTS_PER_KEY)}.key`)
	);
	expect(read.segments.every(({ key }) => key?.method === 'AES-128')).toBe(true);
});

it('cuts a teaser to the segments that begin within it', () => {
	const cut = (seconds: number) => firstSeconds(stream.variants[0]!, seconds).segmentSeconds.length;
	expect([1, 2, 3, 4, 5, 1000].map(cut)).toEqual([1, 1, 2, 2, 3, lengths.length]);
});

it('of a recording alone names its sound', () => {
	const sound = stream.variants.filter(({ kind }) => kind === 'audio');
	const read = HLS.parse(masterPlaylist({ variants: sound })) as HLS.types.MasterPlaylist;
	expect(read.variants.map(({ uri, codecs }) => [uri, codecs])).toEqual([['a/index.m3u8', 'mp4a.40.2']]);
});

// NIST SP 800-38A F.2.1, CBC-AES128.Encrypt: four blocks. Padding makes a fifth.
test('segments are encrypted as NIST’s example is', () => {
	const hex = (text: string) => Buffer.from(text, 'hex');
	const clear = hex(
		'6bc1bee22e409f96e93d7e117393172aae2d8a571e03ac9c9eb76fac45af8e5130c81c46a35ce411e5fbc1191a0a52eff69f2445df4f9b17ad2b417be66c3710'
	);
	const sealed = seal(
		clear,
		hex('2b7e151628aed2a6abf7158809cf4f3c'),
		hex('000102030405060708090a0b0c0d0e0f')
	);
	expect(sealed.subarray(0, 64).toString('hex')).toBe(
		'7649abac8119b246cee98e9b12e9197d5086cb9b507219ee95db113a917678b273bed6b8e3c1743b7116e69e222295163ff1caa1681fac09120eca307586e1a7'
	);
	expect(sealed).toHaveLength(80);
});

it('is read the same by the library that plays it', async () => {
	// It is made for browsers, and looks for their global name.
	Object.assign(globalThis, { self: globalThis });
	const { M3U8Parser, PlaylistLevelType } = await import('hls.js');
	const base = 'https://clock.example/media/stream/proof/';
	const master = M3U8Parser.parseMasterPlaylist(masterPlaylist(stream), `${base}master.m3u8`);
	expect(master.levels.map(({ url, height }) => [url, height])).toEqual([
		[`${base}v0/index.m3u8`, 720],
		[`${base}v1/index.m3u8`, 360]
	]);
	const level = M3U8Parser.parseLevelPlaylist(
		mediaPlaylist(stream.variants[0]!),
		`${base}v0/index.m3u8`,
		0,
		PlaylistLevelType.MAIN,
		0,
		null
	);
	expect(level.fragments.map(({ url }) => url)).toEqual(lengths.map((_, n) => `${base}v0/${n}.m4s`));
	expect(level.totalduration).toBeCloseTo(lengths.reduce((sum, length) => sum + length, 0));
	expect(level.fragments.at(-1)?.decryptdata?.uri).toBe(`${base}v0/${Math.floor(6 / SEGMENTS_PER_KEY)}.key`);
});

// RFC 8216 §4.3.1 and §4.3.3: what a reader that is not ours passes over is told by the letter.
const [picture, , sound] = stream.variants;

it('writes a master playlist of a film, to the letter', () => {
	expect(masterPlaylist({ variants: [picture!, sound!] })).toBe(
		[
			'#EXTM3U',
			'#EXT-X-VERSION:7',
			'#EXT-X-INDEPENDENT-SEGMENTS',
			'#EXT-X-MEDIA:TYPE=AUDIO,GROUP-ID="sound",NAME="Sound",DEFAULT=YES,AUTOSELECT=YES,URI="a/index.m3u8"',
			'#EXT-X-STREAM-INF:BANDWIDTH=1028000,CODECS="avc1.640020,mp4a.40.2",RESOLUTION=1280x720,AUDIO="sound"',
			'v0/index.m3u8',
			''
		].join('\n')
	);
});

test.each([
	['a recording', [sound!], ['#EXT-X-STREAM-INF:BANDWIDTH=128000,CODECS="mp4a.40.2"', 'a/index.m3u8']],
	[
		'a silent film',
		[picture!],
		['#EXT-X-STREAM-INF:BANDWIDTH=900000,CODECS="avc1.640020",RESOLUTION=1280x720', 'v0/index.m3u8']
	],
	[
		'a film of which only one side is known',
		[{ ...picture!, height: null }],
		['#EXT-X-STREAM-INF:BANDWIDTH=900000,CODECS="avc1.640020"', 'v0/index.m3u8']
	]
])('writes the master playlist of %s, to the letter', (_, variants, lines) => {
	expect(masterPlaylist({ variants })).toBe(
		['#EXTM3U', '#EXT-X-VERSION:7', '#EXT-X-INDEPENDENT-SEGMENTS', ...lines, ''].join('\n')
	);
});

it('writes a media playlist to the letter: a key before each third segment, by its number', () => {
	expect(mediaPlaylist({ ...picture!, segmentSeconds: [2, 2, 2, 1.4] })).toBe(
		[
			'#EXTM3U',
			'#EXT-X-VERSION:7',
			'#EXT-X-TARGETDURATION:2',
			'#EXT-X-MEDIA-SEQUENCE:0',
			'#EXT-X-PLAYLIST-TYPE:VOD',
			'#EXT-X-INDEPENDENT-SEGMENTS',
			'#EXT-X-MAP:URI="init.mp4"',
			'#EXT-X-KEY:METHOD=AES-128,URI="0.key"',
			'#EXTINF:2.000000,',
			'0.m4s',
			'#EXTINF:2.000000,',
			'1.m4s',
			'#EXTINF:2.000000,',
			'2.m4s',
			'#EXT-X-KEY:METHOD=AES-128,URI="1.key"',
			'#EXTINF:1.400000,',
			'3.m4s',
			'#EXT-X-ENDLIST',
			''
		].join('\n')
	);
	// RFC 8216 §4: the type of a playlist, as servers name it.
	expect(PLAYLIST_TYPE).toBe('application/vnd.apple.mpegurl');
});
