/**
 * What a file is, by its content. The name is heard, too: a file that is called one thing and is another was damaged,
 * renamed by mistake, or lies, and is not taken.
 *
 * Example: `notes.mp4` full of words is refused; `drawing.svg` is a file like others, which browsers are never let run.
 */
import { cleanFileName } from './file-name';

export interface SeenContent {
	/** What the first bytes say; `null` where they say nothing known. */
	detected: { extension: string; mediaType: string } | null;
	/** Whether it reads as text. */
	isText: boolean;
	/** Whether pictures and sound were found in it. */
	media: { hasPicture: boolean; hasSound: boolean } | null;
	bytes: number;
}

export type FileKind =
	| { ok: true; kind: 'video' | 'audio' | 'file'; mediaType: string; extension: string | null }
	| { ok: false; code: 'empty' | 'broken-media' | 'not-what-it-says'; says: string; is: string };

const VIDEO = new Set([
	'mp4',
	'm4v',
	'mov',
	'mkv',
	'webm',
	'avi',
	'mpg',
	'mpeg',
	'ts',
	'wmv',
	'flv',
	'3gp',
	'ogv'
]);
const AUDIO = new Set(['mp3', 'm4a', 'aac', 'wav', 'flac', 'ogg', 'oga', 'opus', 'aif', 'aiff', 'wma']);

/** Endings whose content is always recognised: another content under them is wrong. */
const SURE = new Set([
	'pdf',
	'zip',
	'png',
	'jpg',
	'jpeg',
	'gif',
	'webp',
	'docx',
	'xlsx',
	'pptx',
	'epub',
	'7z',
	'gz',
	'rar'
]);
const SAME: Record<string, string> = { jpeg: 'jpg', tgz: 'gz' };

/** Of text nothing but its name says more. */
const TEXT_TYPES: Record<string, string> = {
	txt: 'text/plain',
	md: 'text/markdown',
	csv: 'text/csv',
	json: 'application/json',
	html: 'text/html',
	htm: 'text/html',
	xhtml: 'application/xhtml+xml',
	xml: 'application/xml',
	svg: 'image/svg+xml',
	js: 'text/javascript',
	css: 'text/css',
	vtt: 'text/vtt',
	srt: 'application/x-subrip',
	gcode: 'text/plain',
	dxf: 'image/vnd.dxf'
};

export function kindOfFile(name: string, { detected, isText, media, bytes }: SeenContent): FileKind {
	const extension = extensionOf(name);
	const says = extension ?? '';
	if (bytes === 0) return { ok: false, code: 'empty', says, is: '' };
	const claimsMedia = VIDEO.has(says) || AUDIO.has(says);
	if (media) {
		if (SURE.has(says))
			return { ok: false, code: 'not-what-it-says', says, is: media.hasPicture ? 'video' : 'audio' };
		const kind = media.hasPicture ? 'video' : 'audio';
		return { ok: true, kind, mediaType: detected?.mediaType ?? `${kind}/*`, extension };
	}
	const found = detected?.extension ?? (isText ? 'text' : '');
	if (claimsMedia) {
		// Its first bytes are those of a film or recording, but nothing can be read of it.
		const isDamaged = detected !== null && /^(?:video|audio)\//.test(detected.mediaType);
		return { ok: false, code: isDamaged ? 'broken-media' : 'not-what-it-says', says, is: found };
	}
	if (SURE.has(says) && same(found) !== same(says))
		return { ok: false, code: 'not-what-it-says', says, is: found };
	const mediaType =
		detected?.mediaType ?? (isText ? (TEXT_TYPES[says] ?? 'text/plain') : 'application/octet-stream');
	return { ok: true, kind: 'file', mediaType, extension };
}

/** In lower case, without the point; `null` where there is none. */
export function extensionOf(name: string): string | null {
	return /\.([A-Za-z0-9]{1,16})$/.exec(cleanFileName(name))?.[1]?.toLowerCase() ?? null;
}

function same(extension: string): string {
	return SAME[extension] ?? extension;
}
