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
	/** The part that is wrong begins at `at` and has `length` characters, counted as JavaScript does. */
	| { code: 'not-readable'; fault: PatternFault; at: number; length: number };

/** Names of RE2's own errors (RE2, re2.h, ErrorCode), and half of a character, which it takes for one. */
export type PatternFault =
	| 'group-not-closed'
	| 'group-not-opened'
	| 'class-not-closed'
	| 'class-unknown'
	| 'escape-unknown'
	| 'nothing-to-repeat'
	| 'repeated-twice'
	| 'count-unusable'
	| 'name-taken'
	| 'mark-unknown'
	| 'backslash-last'
	| 'half-character'
	| 'too-much';

const FAULTS: Record<string, PatternFault> = {
	'missing closing )': 'group-not-closed',
	'unexpected )': 'group-not-opened',
	'missing closing ]': 'class-not-closed',
	'invalid character class range': 'class-unknown',
	'invalid character class': 'class-unknown',
	'invalid escape sequence': 'escape-unknown',
	'missing argument to repetition operator': 'nothing-to-repeat',
	'invalid nested repetition operator': 'repeated-twice',
	'invalid repeat count': 'count-unusable',
	'duplicate capture group name': 'name-taken',
	'invalid named capture': 'mark-unknown',
	'invalid or unsupported Perl syntax': 'mark-unknown',
	'trailing backslash at end of expression': 'backslash-last'
};

/** What is wrong with a pattern; `null` when it can be used. */
export function problemOf(pattern: string): PatternProblem | null {
	if (pattern === '') return { code: 'empty' };
	if (pattern.length > MAX_PATTERN_LENGTH) return { code: 'too-long', length: pattern.length };
	const half = pattern.search(/\p{Surrogate}/u);
	if (half >= 0) return { code: 'not-readable', fault: 'half-character', at: half, length: 1 };
	try {
		RE2JS.compile(pattern);
		return null;
	} catch (error) {
		if (!(error instanceof RE2JSException)) throw error;
		// One digit after a backslash refers back, more are a character's number in octal.
		const isNotLinear = /\(\?(?:<?[=!])|\\[1-9](?![0-7])|\(\?P=/.test(pattern.replace(/\\\\/g, ''));
		return isNotLinear ? { code: 'not-linear' } : { code: 'not-readable', ...faultIn(pattern, error) };
	}
}

function faultIn(
	pattern: string,
	error: RE2JSException
): { fault: PatternFault; at: number; length: number } {
	const { error: said, input } = error as RE2JSException & { error?: string; input?: string | null };
	const fault = FAULTS[said ?? ''] ?? 'too-much';
	const whole = { fault, at: 0, length: pattern.length };
	switch (fault) {
		case 'group-not-closed':
			return { fault, at: openGroups(pattern).at(-1) ?? 0, length: 1 };
		case 'group-not-opened':
			return { fault, at: strayEnd(pattern) ?? 0, length: 1 };
		case 'backslash-last':
			return { fault, at: pattern.length - 1, length: 1 };
		case 'name-taken': {
			const at = pattern.lastIndexOf(`<${input}>`);
			return at < 0 ? whole : { fault, at: at + 1, length: (input ?? '').length };
		}
		default: {
			const at = input ? pattern.indexOf(input) : -1;
			return at < 0 ? whole : { fault, at, length: (input ?? '').length };
		}
	}
}

/** Where groups begin that are never closed. */
function openGroups(pattern: string): number[] {
	const open: number[] = [];
	for (const { token, at } of signsOf(pattern)) {
		if (token === '(') open.push(at);
		else if (token === ')') open.pop();
	}
	return open;
}

/** The first end of a group that none began. */
function strayEnd(pattern: string): number | null {
	let depth = 0;
	for (const { token, at } of signsOf(pattern)) {
		if (token === '(') depth++;
		else if (token === ')' && --depth < 0) return at;
	}
	return null;
}

/** Its single signs, classes and escapes as one each. */
function* signsOf(pattern: string): Generator<{ token: string; at: number }> {
	for (let at = 0; at < pattern.length;) {
		const c = pattern[at] ?? '';
		const end = c === '[' ? (classEnd(pattern, at) ?? at) : c === '\\' ? at + 1 : at;
		yield { token: pattern.slice(at, end + 1), at };
		at = end + 1;
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
