/**
 * Path patterns: RE2 syntax, matched in linear time, anchored or not as written.
 *
 * A literal that every match must contain finds candidates quickly: `^/clocks/\d+/notes$` can match only addresses that
 * contain `/clocks/`. Patterns without such a literal are matched together, as one set.
 */
import { RE2JS, RE2JSException } from 're2js';

export const MAX_PATTERN_LENGTH = 500;

export type PatternProblem =
	| { code: 'empty' }
	| { code: 'too-long'; length: number }
	/** Look-arounds and back references cannot be matched in linear time. */
	| { code: 'not-linear' }
	| { code: 'not-readable'; detail: string };

/** What is wrong with a pattern; `null` when it can be used. */
export function problemOf(pattern: string): PatternProblem | null {
	if (pattern === '') return { code: 'empty' };
	if (pattern.length > MAX_PATTERN_LENGTH) return { code: 'too-long', length: pattern.length };
	if (hasLoneSurrogate(pattern)) return { code: 'not-readable', detail: 'half of a character' };
	try {
		RE2JS.compile(pattern);
		return null;
	} catch (error) {
		if (!(error instanceof RE2JSException)) throw error;
		// One digit after a backslash refers back, more are a character's number in octal.
		const isNotLinear = /\(\?(?:<?[=!])|\\[1-9](?![0-7])|\(\?P=/.test(pattern.replace(/\\\\/g, ''));
		return isNotLinear ? { code: 'not-linear' } : { code: 'not-readable', detail: error.message };
	}
}

/** Half of a character that is written in two: no address contains one. */
export function hasLoneSurrogate(text: string): boolean {
	return /\p{Surrogate}/u.test(text);
}

export interface PathPattern {
	matches: (path: string) => boolean;
}

/** Compiles when first asked. A pattern that cannot be used matches nothing: it was refused when it was saved. */
export function pathPattern(pattern: string): PathPattern {
	let compiled: RE2JS | null = null;
	return {
		matches(path) {
			if (!compiled) {
				if (problemOf(pattern)) return false;
				compiled = RE2JS.compile(pattern);
			}
			return compiled.test(path);
		}
	};
}

/** Whether a pattern holds on to both ends of the path, whichever of its alternatives matches. */
export function anchoring(pattern: string): { start: boolean; end: boolean } {
	const alternatives = alternativesOf(pattern);
	return { start: alternatives.every(holdsStart), end: alternatives.every(holdsEnd) };
}

function holdsStart(pattern: string): boolean {
	const own = pattern.replace(/^(?:\(\?[a-zA-Z-]+\))+/, '');
	if (/^(?:\^|\\A)(?![*?{])/.test(own)) return true;
	const end = own.startsWith('(') ? groupEnd(own, 0) : null;
	if (end === null || /^[*?{]/.test(own.slice(end + 1))) return false;
	return alternativesOf(insideOf(own.slice(0, end + 1))).every(holdsStart);
}

function holdsEnd(pattern: string): boolean {
	const tokens = tokensOf(pattern);
	const last = tokens.at(-1) ?? '';
	if (last === '$' || last === '\\z') return true;
	return last.length > 1 && last.startsWith('(') && alternativesOf(insideOf(last)).every(holdsEnd);
}

/** What a group groups, without its marks: `(?:a|b)` is `a|b`. */
function insideOf(group: string): string {
	return group.slice(1, -1).replace(/^\?(?:P?<\w+>|[a-zA-Z-]*:)/, '');
}

/** A pattern at the bars that stand in no group. */
function alternativesOf(pattern: string): string[] {
	const alternatives = [''];
	for (const token of tokensOf(pattern)) {
		if (token === '|') alternatives.push('');
		else alternatives[alternatives.length - 1] += token;
	}
	return alternatives;
}

/** A pattern cut into groups, classes, escapes, quoted texts and single characters. */
function tokensOf(pattern: string): string[] {
	const tokens: string[] = [];
	for (let i = 0; i < pattern.length;) {
		const from = i;
		const c = pattern[i] ?? '';
		const end = c === '(' ? groupEnd(pattern, i) : c === '[' ? classEnd(pattern, i) : null;
		if (end !== null) i = end + 1;
		else if (pattern.startsWith('\\Q', i))
			i = pattern.includes('\\E', i) ? pattern.indexOf('\\E', i) + 2 : pattern.length;
		else i += c === '\\' ? 2 : 1;
		tokens.push(pattern.slice(from, i));
	}
	return tokens;
}

export const MIN_LITERAL = 3;

/**
 * The longest text that every match contains, of at least `MIN_LITERAL` characters; `null` when none can be told. It
 * reads only what is plain: at an alternative, a flag or anything unknown it rather gives up.
 */
export function requiredLiteral(pattern: string): string | null {
	const runs: string[] = [];
	let run: string[] = [];
	const flush = () => {
		runs.push(run.join(''));
		run = [];
	};
	for (let i = 0; i < pattern.length; i++) {
		const c = String.fromCodePoint(pattern.codePointAt(i) ?? 0);
		if (c === '|') return null;
		if (c === '(') {
			if (pattern.startsWith('(?', i)) return null;
			const end = groupEnd(pattern, i);
			if (end === null) return null;
			flush();
			i = end;
		} else if (c === '[') {
			const end = classEnd(pattern, i);
			if (end === null) return null;
			flush();
			i = end;
		} else if (c === '\\') {
			const next = pattern[++i] ?? '';
			// Quoted texts, classes by name and characters by number go on after the letter.
			if (/[QpPx\d]/.test(next)) return null;
			if (/\w/.test(next)) flush();
			else run.push(next);
		} else if (c === '*' || c === '?') {
			run.pop();
			flush();
		} else if (c === '{') {
			const bounds = /^\{(\d+)(?:,\d*)?\}/.exec(pattern.slice(i));
			// Repeated at least once, the character stays; what follows does not touch it.
			if (!bounds || Number(bounds[1]) === 0) run.pop();
			flush();
			if (bounds) i += bounds[0].length - 1;
		} else if (c === '+' || c === '.' || c === '^' || c === '$') flush();
		else {
			run.push(c);
			i += c.length - 1;
		}
	}
	flush();
	const longest = runs.reduce((a, b) => (b.length > a.length ? b : a), '');
	return longest.length >= MIN_LITERAL ? longest : null;
}

function groupEnd(pattern: string, from: number): number | null {
	let depth = 0;
	for (let i = from; i < pattern.length; i++) {
		const c = pattern[i];
		if (c === '\\') i++;
		else if (c === '[') {
			const end = classEnd(pattern, i);
			if (end === null) return null;
			i = end;
		} else if (c === '(') depth++;
		else if (c === ')' && --depth === 0) return i;
	}
	return null;
}

function classEnd(pattern: string, from: number): number | null {
	// A bracket right after the opening one is a member of the class.
	let i = from + 1;
	if (pattern[i] === '^') i++;
	if (pattern[i] === ']') i++;
	for (; i < pattern.length; i++) {
		if (pattern[i] === '\\') i++;
		else if (pattern[i] === '[' && pattern[i + 1] === ':') return null;
		else if (pattern[i] === ']') return i;
	}
	return null;
}
