/** Playlists against RFC 8216, read back by `hls-parser`, a reader that is not ours. */
import * as HLS from 'hls-parser';
import { expect, it } from 'vitest';
import { masterPlaylist, mediaPlaylist } from '$core/media/playlist';
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
