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
	if (/\(\?(?:<?[=!])|\\[1-9]|\(\?P=/.test(pattern.replace(/\\\\/g, ''))) return { code: 'not-linear' };
	try {
		RE2JS.compile(pattern);
		return null;
	} catch (error) {
		if (!(error instanceof RE2JSException)) throw error;
		return { code: 'not-readable', detail: error.message };
	}
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

/** Whether a pattern holds on to both ends of the path. */
export function anchoring(pattern: string): { start: boolean; end: boolean } {
	return { start: /^(?:\^|\\A)/.test(pattern), end: /(?<!\\)(?:\$|\\z)$/.test(pattern) };
}

export const MIN_LITERAL = 3;

/**
 * The longest text that every match contains, of at least `MIN_LITERAL` characters; `null` when none can be told. It
 * reads only what is plain: at an alternative, a flag or anything unknown it rather gives up.
 */
export function requiredLiteral(pattern: string): string | null {
	const runs: string[] = [];
	let run = '';
	const flush = () => {
		runs.push(run);
		run = '';
	};
	for (let i = 0; i < pattern.length; i++) {
		const c = pattern[i] ?? '';
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
			if (/[\w]/.test(next)) flush();
			else run += next;
			if (next === 'Q' || next === 'p' || next === 'P' || next === 'x') return null;
		} else if (c === '*' || c === '?') {
			run = run.slice(0, -1);
			flush();
		} else if (c === '{') {
			const bounds = /^\{(\d+)(?:,\d*)?\}/.exec(pattern.slice(i));
			// Repeated at least once, the character stays; what follows does not touch it.
			if (!bounds || bounds[1] === '0') run = run.slice(0, -1);
			flush();
			if (bounds) i += bounds[0].length - 1;
		} else if (c === '+' || c === '.') flush();
		else if (c === '^' || c === '$') flush();
		else run += c;
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
