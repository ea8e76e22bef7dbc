/**
 * Captions: what is said, and when. Read from WebVTT (W3C, "WebVTT: The Web Video Text Tracks Format", §4 and §6) and from
 * SubRip; written as WebVTT.
 *
 * A cue is `[start, end)` in milliseconds with lines of text. Markup of cues is kept as far as it may be shown: bold,
 * italic, underlined, and who speaks. Example: `00:01.000 --> 00:04.500` is 1000 to 4500.
 */

export interface Cue {
	startMs: number;
	endMs: number;
	text: string;
	/** Where it stands, as WebVTT writes it (`line:0 align:start`); empty for the usual place. */
	settings: string;
}

export type CaptionProblem =
	| { code: 'empty' }
	| { code: 'too-long'; cues: number }
	| { code: 'not-captions' }
	/** A line that should say when. */
	| { code: 'bad-time'; line: number; seen: string }
	| { code: 'ends-before-it-begins'; line: number };

export type ReadCaptions = { ok: true; cues: Cue[] } | { ok: false; problem: CaptionProblem };

export const MAX_CUES = 20_000;
const MAX_CUE_TEXT = 2000;

/** WebVTT §4.1: hours are optional, minutes and seconds have two digits, a full stop before the thousandths. */
const VTT_TIME = /^(?:(\d{2,}):)?([0-5]\d):([0-5]\d)\.(\d{3})$/;
/** Common practice, no source: SubRip writes a comma, hours always, and sometimes too few digits. */
const SRT_TIME = /^(\d{1,3}):([0-5]?\d):([0-5]?\d)[,.](\d{1,3})$/;
const ARROW = '-->';

export function readCaptions(text: string): ReadCaptions {
	const clean = text
		.replace(/^\uFEFF/, '')
		.replaceAll('\0', '\uFFFD')
		.replace(/\r\n?/g, '\n');
	if (clean.trim() === '') return { ok: false, problem: { code: 'empty' } };
	// WebVTT §6.1: the file begins with the word and then a space, a tab, a line end or nothing.
	const isVtt = /^WEBVTT(?:[ \t\n]|$)/.test(clean);
	if (!isVtt && !clean.includes(ARROW)) return { ok: false, problem: { code: 'not-captions' } };
	const read = blocksOf(clean, isVtt);
	if (!read.ok) return read;
	const cues = read.cues.sort((a, b) => a.startMs - b.startMs || a.endMs - b.endMs);
	if (cues.length === 0) return { ok: false, problem: { code: 'empty' } };
	if (cues.length > MAX_CUES) return { ok: false, problem: { code: 'too-long', cues: cues.length } };
	return { ok: true, cues };
}

function blocksOf(text: string, isVtt: boolean): ReadCaptions {
	const lines = text.split('\n');
	const cues: Cue[] = [];
	for (let n = isVtt ? endOfBlock(lines, 0) : 0; n < lines.length; n = endOfBlock(lines, n)) {
		while (n < lines.length && (lines[n] ?? '').trim() === '') n++;
		if (n >= lines.length) break;
		const first = lines[n] ?? '';
		// WebVTT §4.1: comments, style sheets and regions are no cues.
		if (isVtt && /^(?:NOTE|STYLE|REGION)(?:[ \t]|$)/.test(first)) continue;
		const at = first.includes(ARROW) ? n : n + 1;
		const timing = lines[at] ?? '';
		// A block without a time is skipped by WebVTT's own rules; SubRip ends in such.
		if (!timing.includes(ARROW)) continue;
		const cue = cueOf(timing, lines.slice(at + 1, endOfBlock(lines, at)), at + 1, isVtt);
		if (!cue.ok) return cue;
		if (cue.cue.text !== '') cues.push(cue.cue);
	}
	return { ok: true, cues };
}

/** The line after the next empty one. */
function endOfBlock(lines: readonly string[], from: number): number {
	let n = from;
	while (n < lines.length && (lines[n] ?? '').trim() !== '') n++;
	return n + (n < lines.length ? 1 : 0);
}

function cueOf(
	timing: string,
	body: readonly string[],
	line: number,
	isVtt: boolean
): { ok: true; cue: Cue } | { ok: false; problem: CaptionProblem } {
	const at = timing.indexOf(ARROW);
	const [, end = '', settings = ''] = /^\s*(\S+)\s*(.*?)\s*$/.exec(timing.slice(at + ARROW.length)) ?? [];
	const startMs = timeOf(timing.slice(0, at).trim(), isVtt);
	const endMs = timeOf(end, isVtt);
	if (startMs === null || endMs === null)
		return { ok: false, problem: { code: 'bad-time', line, seen: timing.trim().slice(0, 60) } };
	if (endMs <= startMs) return { ok: false, problem: { code: 'ends-before-it-begins', line } };
	const text = body.join('\n').trim().slice(0, MAX_CUE_TEXT);
	return {
		ok: true,
		cue: { startMs, endMs, text: isVtt ? text : fromSubRip(text), settings: isVtt ? settings : '' }
	};
}

function timeOf(text: string, isVtt: boolean): number | null {
	const match = (isVtt ? VTT_TIME : SRT_TIME).exec(text);
	if (!match) return null;
	const [, hours = '0', minutes = '0', seconds = '0', thousandths = '0'] = match;
	return (
		((Number(hours) * 60 + Number(minutes)) * 60 + Number(seconds)) * 1000 +
		Number(thousandths.padEnd(3, '0'))
	);
}

/** SubRip has font tags, and braces for places: neither is shown. */
function fromSubRip(text: string): string {
	return text
		.replace(/\{\\[^}]*\}/g, '')
		.replace(/<\/?font[^>]*>/gi, '')
		.replace(/&(?!(?:amp|lt|gt|nbsp|lrm|rlm);)/g, '&amp;');
}

/** Only cue tags that do no more than form stay (WebVTT §4.2.2); what looks like a tag and is none is written out. */
export function safeCueText(text: string): string {
	return text.replace(
		/<(\/?)(b|i|u|v|lang)((?:[.\s][^<>]*)?)>|<\/?[A-Za-z][^<>]*>|[<>]/g,
		(whole, slash, tag, rest) => {
			if (tag) return `<${slash}${tag}${rest}>`;
			if (whole === '<') return '&lt;';
			return whole === '>' ? '&gt;' : '';
		}
	);
}

export function writeVtt(cues: readonly Cue[]): string {
	const blocks = cues.map(({ startMs, endMs, text, settings }) => {
		const head = `${vttTime(startMs)} ${ARROW} ${vttTime(endMs)}${settings ? ` ${settings}` : ''}`;
		// An arrow in the text would begin another cue, and an empty line would end this one.
		const body = safeCueText(text)
			.replaceAll(ARROW, '--&gt;')
			.replace(/\n\s*\n/g, '\n');
		return `${head}\n${body}\n`;
	});
	return ['WEBVTT\n', ...blocks].join('\n');
}

/** `00:01:02.500` */
export function vttTime(ms: number): string {
	const two = (n: number) => String(n).padStart(2, '0');
	const seconds = Math.floor(ms / 1000);
	return `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}.${String(Math.floor(ms) % 1000).padStart(3, '0')}`;
}

/** What was typed beside a cue: `1:02.5`, `62`, `00:01:02,500`. `null` for anything else. */
export function readTime(text: string): number | null {
	const match = /^(?:(?:(\d{1,3}):)?(\d{1,3}):)?(\d{1,5})(?:[.,](\d{1,3}))?$/.exec(text.trim());
	if (!match) return null;
	const [, hours, minutes, seconds = '0', part = '0'] = match;
	if (minutes !== undefined && Number(seconds) > 59) return null;
	if (hours !== undefined && Number(minutes) > 59) return null;
	return (
		((Number(hours ?? 0) * 60 + Number(minutes ?? 0)) * 60 + Number(seconds)) * 1000 +
		Number(part.padEnd(3, '0'))
	);
}
