import type { CaptionProblem, SkippedCue } from '$core/media/captions';
import type { ReadChapters } from '$core/media/chapters';
import type { Received } from './receive-file';

type Problem = Extract<Received, { ok: false }>['problem'];

const IS: Record<string, string> = { text: 'words', video: 'a video', audio: 'sound', '': 'something else' };

/** What is wrong with a file that came, and what to do. */
export function arrivalWords(problem: Problem | { code: 'empty' }): string {
	switch (problem.code) {
		case 'empty':
			return 'This file is empty (0 bytes). Choose it again; it may not have been exported to the end.';
		case 'not-what-it-says':
			return 'says' in problem
				? `This file is called .${problem.says}, but what is in it is ${IS[problem.is] ?? problem.is.toUpperCase()}. Name it after its content, or export it again.`
				: '';
		case 'broken-media':
			return 'This file cannot be read as a film or recording: it is damaged or was not sent whole. Export it again.';
		case 'no-length':
			return 'This file does not say how long it is, so it may be cut off. Export it again and upload the new file.';
		case 'unknown-item':
			return 'The item that it was meant for does not exist any more.';
		case 'another-kind':
			return 'This is another kind of file than the item shows. Bring in one of the same kind, or make a new item.';
		default:
			return problem satisfies never;
	}
}

const SKIPPED_NAMED = 5;

export function captionProblemWords(problem: CaptionProblem): string {
	switch (problem.code) {
		case 'empty':
			return 'There are no captions in it. Choose a WebVTT or SubRip file.';
		case 'too-long':
			return `It has ${problem.cues} captions; at most 20,000 are taken.`;
		case 'not-captions':
			return 'These are no captions. Choose a WebVTT file (.vtt) or a SubRip file (.srt).';
		case 'bad-time':
			return `Line ${problem.line} should say when, such as 00:01.000 --> 00:04.000, but says “${problem.seen}”.`;
		case 'ends-before-it-begins':
			return `The caption at line ${problem.line} ends before it begins.`;
		default:
			return problem satisfies never;
	}
}

/** What was left out of captions that were taken; empty where nothing was. */
export function skippedWords(skipped: readonly SkippedCue[]): string {
	if (skipped.length === 0) return '';
	const named = skipped.slice(0, SKIPPED_NAMED).map(captionProblemWords);
	const rest = skipped.length - named.length;
	return ` Left out: ${named.join(' ')}${rest > 0 ? ` And ${rest} more.` : ''}`;
}

export function chapterProblemWords(problem: Extract<ReadChapters, { ok: false }>['problem']): string {
	switch (problem.code) {
		case 'empty':
			return 'There are no chapters in it.';
		case 'not-chapters':
			return 'These are no chapters. Type one a line, such as 1:30 The escapement, or choose a WebVTT or JSON file.';
		case 'bad-line':
			return `Line ${problem.line} begins with no time: “${problem.seen}”. Write it as 1:30 The escapement.`;
		default:
			return problem satisfies never;
	}
}
