/**
 * HLS playlists (RFC 8216) of a prepared stream.
 *
 * The initialisation section stands clear before the first key, and the key changes with every key group. Addresses are
 * relative to the playlist, so that one proof in the path covers all of them.
 */
import { keyGroupOf, type PreparedStream, type Variant } from './stream';

export const PLAYLIST_TYPE = 'application/vnd.apple.mpegurl';

const AUDIO_GROUP = 'sound';

/** The master playlist: `<variant>/index.m3u8` for each variant. */
export function masterPlaylist({ variants }: PreparedStream): string {
	const sound = variants.find((v) => v.kind === 'audio');
	const lines = ['#EXTM3U', '#EXT-X-VERSION:7', '#EXT-X-INDEPENDENT-SEGMENTS'];
	const hasPicture = variants.some((v) => v.kind === 'video');
	if (sound && hasPicture) {
		lines.push(
			`#EXT-X-MEDIA:TYPE=AUDIO,GROUP-ID="${AUDIO_GROUP}",NAME="Sound",DEFAULT=YES,AUTOSELECT=YES,URI="${sound.id}/index.m3u8"`
		);
	}
	if (sound && !hasPicture)
		return [
			...lines,
			`#EXT-X-STREAM-INF:BANDWIDTH=${sound.bitsPerSecond},CODECS="${sound.codecs}"`,
			`${sound.id}/index.m3u8`,
			''
		].join('\n');
	for (const picture of variants.filter((v) => v.kind === 'video')) {
		const codecs = [picture.codecs, ...(sound ? [sound.codecs] : [])].join(',');
		const bandwidth = picture.bitsPerSecond + (sound?.bitsPerSecond ?? 0);
		const size = picture.width && picture.height ? `,RESOLUTION=${picture.width}x${picture.height}` : '';
		lines.push(
			`#EXT-X-STREAM-INF:BANDWIDTH=${bandwidth},CODECS="${codecs}"${size}${sound ? `,AUDIO="${AUDIO_GROUP}"` : ''}`,
			`${picture.id}/index.m3u8`
		);
	}
	return lines.join('\n') + '\n';
}

/** A variant's playlist: `init.mp4`, `<n>.m4s` and `<group>.key` beside it. */
export function mediaPlaylist({ segmentSeconds }: Variant): string {
	// RFC 8216 §4.3.3.1: every EXTINF, rounded to the nearest integer, is at most the target duration.
	const target = Math.max(1, ...segmentSeconds.map((s) => Math.round(s)));
	const lines = [
		'#EXTM3U',
		'#EXT-X-VERSION:7',
		`#EXT-X-TARGETDURATION:${target}`,
		'#EXT-X-MEDIA-SEQUENCE:0',
		'#EXT-X-PLAYLIST-TYPE:VOD',
		'#EXT-X-INDEPENDENT-SEGMENTS',
		'#EXT-X-MAP:URI="init.mp4"'
	];
	let group = -1;
	segmentSeconds.forEach((seconds, n) => {
		if (keyGroupOf(n) !== group) {
			group = keyGroupOf(n);
			lines.push(`#EXT-X-KEY:METHOD=AES-128,URI="${group}.key"`);
		}
		lines.push(`#EXTINF:${seconds.toFixed(6)},`, `${n}.m4s`);
	});
	lines.push('#EXT-X-ENDLIST');
	return lines.join('\n') + '\n';
}
