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
	| { code: 'ends-before-it-begins'; line: number; seen: string };

/** A cue that could not be taken. */
export type SkippedCue = Extract<CaptionProblem, { line: number }>;

/** `skipped`: cues that make no sense, by their lines; all others are kept. */
export type ReadCaptions =
	{ ok: true; cues: Cue[]; skipped: SkippedCue[] } | { ok: false; problem: CaptionProblem };

export const MAX_CUES = 20_000;
const MAX_CUE_TEXT = 2000;

/** WebVTT §6.3: hours are optional and of any length, minutes and seconds have two digits, then thousandths. */
const VTT_TIME = /^(?:(\d+):)?([0-5]\d):([0-5]\d)\.(\d{3})$/;
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
	const lines = clean.split('\n');
	const cues: Cue[] = [];
	const skipped: SkippedCue[] = [];
	for (const block of isVtt ? vttBlocks(lines) : subRipBlocks(lines)) {
		const cue = cueOf(block, isVtt);
		if (!cue.ok) skipped.push(cue.problem);
		else if (cue.cue.text !== '') cues.push(cue.cue);
	}
	const [first] = skipped;
	if (cues.length === 0) return { ok: false, problem: first ?? { code: 'empty' } };
	if (cues.length > MAX_CUES) return { ok: false, problem: { code: 'too-long', cues: cues.length } };
	cues.sort((a, b) => a.startMs - b.startMs || a.endMs - b.endMs);
	return { ok: true, cues, skipped };
}

/** What stands together as one cue: the line that says when, its number from 1, and the lines of its text. */
interface Block {
	timing: string;
	line: number;
	body: string[];
}

/**
 * WebVTT §6.1, "collect a WebVTT block": an empty line ends a block, and so does an arrow behind the first two lines, which
 * begins another. A line of spaces is not empty. What has no arrow (comments, style sheets, regions) is no cue.
 */
function* vttBlocks(lines: readonly string[]): Generator<Block> {
	let n = 1;
	// The header goes on to an empty line, or to the first arrow.
	while (n < lines.length && lines[n] !== '' && !lines[n]?.includes(ARROW)) n++;
	while (n < lines.length) {
		if (lines[n] === '') {
			n++;
			continue;
		}
		const begin = n;
		let block: Block | null = null;
		for (; n < lines.length; n++) {
			const text = lines[n] ?? '';
			if (text === '') break;
			if (!text.includes(ARROW)) block?.body.push(text);
			else if (block === null && n <= begin + 1) block = { timing: text, line: n + 1, body: [] };
			else break;
		}
		// An arrow that stands deeper begins a block of its own.
		if (block) yield block;
	}
}

/** Common practice, no source: a number, a time, the text; what is blank ends a cue. */
function* subRipBlocks(lines: readonly string[]): Generator<Block> {
	for (let n = 0; n < lines.length; n++) {
		const timing = lines[n] ?? '';
		if (!timing.includes(ARROW)) continue;
		const body: string[] = [];
		for (let at = n + 1; at < lines.length && (lines[at] ?? '').trim() !== ''; at++) {
			// Without a blank line between them, the number before the next time is no text of this one.
			if (lines[at]?.includes(ARROW)) {
				if (/^\d+$/.test((body.at(-1) ?? '').trim())) body.pop();
				break;
			}
			body.push(lines[at] ?? '');
		}
		yield { timing, line: n + 1, body };
	}
}

function cueOf(
	{ timing, line, body }: Block,
	isVtt: boolean
): { ok: true; cue: Cue } | { ok: false; problem: SkippedCue } {
	const at = timing.indexOf(ARROW);
	const [, end = '', settings = ''] = /^\s*(\S+)\s*(.*?)\s*$/.exec(timing.slice(at + ARROW.length)) ?? [];
	const startMs = timeOf(timing.slice(0, at).trim(), isVtt);
	const endMs = timeOf(end, isVtt);
	const seen = timing.trim().slice(0, 60);
	if (startMs === null || endMs === null) return { ok: false, problem: { code: 'bad-time', line, seen } };
	if (endMs <= startMs) return { ok: false, problem: { code: 'ends-before-it-begins', line, seen } };
	const text = body.join('\n').trim().slice(0, MAX_CUE_TEXT);
	return {
		ok: true,
		cue: {
			startMs,
			endMs,
			text: isVtt ? withoutStamps(text) : fromSubRip(text),
			settings: isVtt ? settings : ''
		}
	};
}

/** WebVTT §4.2.2: moments within a cue, at which words light up one by one, are no text. */
function withoutStamps(text: string): string {
	return text.replace(/<\d[\d:.]*>/g, '');
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
