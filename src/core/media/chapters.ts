/**
 * Chapters of a film or recording: typed, or read from WebVTT, from the podcast namespace's JSON chapters, or from the file
 * itself.
 *
 * Chapters are in order, each from its start to that of the next. Example: starts 0, 90 and 240 s make three chapters, the
 * second from 1:30 to 4:00.
 */
import { readCaptions, readTime } from './captions';

export interface Chapter {
	startSeconds: number;
	title: string;
}

export type ReadChapters =
	| { ok: true; chapters: Chapter[] }
	| {
			ok: false;
			problem: { code: 'empty' | 'not-chapters' } | { code: 'bad-line'; line: number; seen: string };
	  };

const MAX_CHAPTERS = 500;
const MAX_TITLE = 200;
/** A thousand hours. */
const MAX_SECONDS = 3_600_000;

const CHARACTERS: Record<string, string> = {
	amp: '&',
	lt: '<',
	gt: '>',
	nbsp: '\u00A0',
	lrm: '\u200E',
	rlm: '\u200F'
};

const no = (code: 'empty' | 'not-chapters'): ReadChapters => ({ ok: false, problem: { code } });

/** In whichever of the three forms it is. */
export function readChapters(text: string): ReadChapters {
	const clean = text.replace(/^\uFEFF/, '').trim();
	if (clean === '') return no('empty');
	if (clean.startsWith('{')) return fromJson(clean);
	return clean.startsWith('WEBVTT') ? fromVtt(clean) : fromLines(clean);
}

/** The podcast namespace's "JSON Chapters" 1.2: `{ version, chapters: [{ startTime, title, toc }] }`. */
function fromJson(text: string): ReadChapters {
	let value: unknown;
	try {
		value = JSON.parse(text);
	} catch {
		return no('not-chapters');
	}
	const list = (value as { chapters?: unknown }).chapters;
	if (!Array.isArray(list)) return no('not-chapters');
	const chapters = list.flatMap((one: Record<string, unknown> | null) => {
		// "toc: false" marks a chapter that is not listed.
		if (!isMoment(one?.startTime) || one.toc === false) return [];
		return typeof one.title === 'string' && one.title.trim() !== ''
			? [{ startSeconds: one.startTime, title: one.title }]
			: [];
	});
	return inOrder(chapters);
}

function fromVtt(text: string): ReadChapters {
	const read = readCaptions(text);
	if (!read.ok) return no(read.problem.code === 'empty' ? 'empty' : 'not-chapters');
	// A chapter that is left out would be missed: the list is taken whole or not at all.
	if (read.skipped.length > 0) return no('not-chapters');
	return inOrder(
		read.cues.map(({ startMs, text: title }) => ({
			startSeconds: startMs / 1000,
			title: plainTitle(title)
		}))
	);
}

/** JSON can write numbers that are larger than any time. */
function isMoment(value: unknown): value is number {
	return typeof value === 'number' && value >= 0 && value <= MAX_SECONDS;
}

/** WebVTT §4.2.2: what a title's text is, without tags and with its characters written out. */
function plainTitle(text: string): string {
	return text
		.replace(/<[^>]*>/g, '')
		.replace(/&(amp|lt|gt|nbsp|lrm|rlm);/g, (_, name: string) => CHARACTERS[name] ?? '');
}

/** As people type them: `1:30 The escapement`, one a line. */
function fromLines(text: string): ReadChapters {
	const chapters: Chapter[] = [];
	for (const [n, line] of text.split(/\r?\n/).entries()) {
		if (line.trim() === '') continue;
		const match = /^\s*([\d:.,]+)\s+(.+?)\s*$/.exec(line);
		const at = match ? readTime(match[1] ?? '') : null;
		if (!match || at === null)
			return { ok: false, problem: { code: 'bad-line', line: n + 1, seen: line.trim().slice(0, 60) } };
		chapters.push({ startSeconds: at / 1000, title: match[2] ?? '' });
	}
	return inOrder(chapters);
}

/** In order, one for each start. */
export function inOrder(chapters: readonly Chapter[]): ReadChapters {
	const byStart = new Map<number, Chapter>();
	for (const { startSeconds, title } of chapters) {
		const text = title.replace(/\s+/g, ' ').trim().slice(0, MAX_TITLE);
		if (text !== '') byStart.set(startSeconds, { startSeconds, title: text });
	}
	const sorted = [...byStart.values()].sort((a, b) => a.startSeconds - b.startSeconds).slice(0, MAX_CHAPTERS);
	return sorted.length === 0 ? no('empty') : { ok: true, chapters: sorted };
}

/** As they are typed: one a line. */
export function writeLines(chapters: readonly Chapter[]): string {
	return chapters.map(({ startSeconds, title }) => `${clock(startSeconds)} ${title}`).join('\n');
}

/** `1:02:03`, `4:05`, `4:05.5` */
export function clock(seconds: number): string {
	// Rounded as a whole, so that 4.9996 is 5 and not 4 and a thousand thousandths.
	const ms = Math.round(seconds * 1000);
	const whole = Math.floor(ms / 1000);
	const thousandths = ms % 1000;
	const part = thousandths === 0 ? '' : `.${String(thousandths).padStart(3, '0').replace(/0+$/, '')}`;
	const two = (n: number) => String(n).padStart(2, '0');
	const hours = Math.floor(whole / 3600);
	const minutes = Math.floor(whole / 60) % 60;
	return `${hours > 0 ? `${hours}:${two(minutes)}` : minutes}:${two(whole % 60)}${part}`;
}

/**
 * Chapters as lines, with one more that begins at a moment and has no title yet; one that begins there is found again.
 *
 * @returns the lines, and where in them the title is written
 */
export function withChapterAt(text: string, seconds: number): { text: string; caret: number } {
	const lines = text.split('\n').filter((line) => line.trim() !== '');
	const starts = lines.map((line) => readTime(line.trim().split(/\s/, 1)[0] ?? ''));
	const known = starts.findIndex((ms) => ms !== null && Math.floor(ms / 1000) === seconds);
	const later = starts.findIndex((ms) => ms !== null && ms / 1000 > seconds);
	const at = known >= 0 ? known : later >= 0 ? later : lines.length;
	if (known < 0) lines.splice(at, 0, `${clock(seconds)} `);
	return { text: lines.join('\n'), caret: lines.slice(0, at + 1).join('\n').length };
}
