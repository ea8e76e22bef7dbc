import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { fence, resource } from '../../../tests/support/access';
import { normalisePath } from './address';
import { anchoring, MAX_PATTERN_LENGTH, pathPattern, problemOf, requiredLiteral } from './pattern';
import { FenceIndex } from './selector';
import { runs } from '../../../tests/support/runs';

describe('what cannot be used', () => {
	test.each([
		['', 'empty'],
		['a'.repeat(10_000), 'too-long'],
		['(?=x)', 'not-linear'],
		['(?<!x)y', 'not-linear'],
		['(a)\\1', 'not-linear'],
		['(unclosed', 'not-readable'],
		['a{3,1}', 'not-readable'],
		['*', 'not-readable'],
		['a\\8', 'not-linear'],
		['\ud800', 'not-readable'],
		['a\udfff$', 'not-readable'],
		['a'.repeat(MAX_PATTERN_LENGTH + 1), 'too-long'],
		['(a)\\1b', 'not-linear'],
		['(?P=a)', 'not-linear']
	])('%j: %s', (pattern, code) => {
		expect(problemOf(pattern)?.code).toBe(code);
		expect(pathPattern(pattern).matches('/x')).toBe(false);
	});
	it('says what cannot be read, and takes what is as long as it may be', () => {
		expect(problemOf('/a\ud800')).toEqual({
			code: 'not-readable',
			fault: 'half-character',
			at: 2,
			length: 1
		});
		expect(problemOf('a'.repeat(MAX_PATTERN_LENGTH + 1))).toEqual({
			code: 'too-long',
			length: MAX_PATTERN_LENGTH + 1
		});
		expect(problemOf('a'.repeat(MAX_PATTERN_LENGTH))).toBeNull();
	});

	// Source: the error codes of RE2 (re2.h), as RE2JS gives them; the places are counted by hand.
	test.each([
		['^/a(b', 'group-not-closed', '(', 3],
		['((a)', 'group-not-closed', '(', 0],
		['[(]a(', 'group-not-closed', '(', 4],
		['\\(a(b', 'group-not-closed', '(', 3],
		['a)b', 'group-not-opened', ')', 1],
		['(a))[)]', 'group-not-opened', ')', 3],
		['^/[ab', 'class-not-closed', '[ab', 2],
		['/x[z-a]y', 'class-unknown', 'z-a', 3],
		['/[[:clock:]]', 'class-unknown', '[:clock:]', 2],
		['/a\\qb', 'escape-unknown', '\\q', 2],
		['*a', 'nothing-to-repeat', '*', 0],
		['/a**', 'repeated-twice', '**', 2],
		['/a{3,1}', 'count-unusable', '{3,1}', 2],
		['/a{2000}', 'count-unusable', '{2000}', 2],
		['(?P<n>a)(?P<n>b)', 'name-taken', 'n', 12],
		['(?z)a', 'mark-unknown', '(?z', 0],
		['/a\\', 'backslash-last', '\\', 2]
	])('marks in %j what is wrong', (pattern, fault, part, at) => {
		const problem = problemOf(pattern);
		expect(problem).toEqual({ code: 'not-readable', fault, at, length: part.length });
		expect(pattern.slice(at, at + part.length)).toBe(part);
	});

	it('marks a part of whatever cannot be read', () => {
		const sign = fc.constantFrom('(', ')', '[', ']', 'a', '\\', '*', '{', '2', '}', '-', '?', '<', '|');
		fc.assert(
			fc.property(fc.string({ unit: sign, minLength: 1, maxLength: 12 }), (pattern) => {
				const problem = problemOf(pattern);
				if (problem?.code !== 'not-readable') return;
				expect(problem.length).toBeGreaterThan(0);
				expect(problem.at).toBeGreaterThanOrEqual(0);
				expect(problem.at + problem.length).toBeLessThanOrEqual(pattern.length);
			}),
			{ numRuns: 2000 }
		);
	});

	it('takes an escaped backslash for a letter, and more digits than one for a character’s number', () => {
		expect(problemOf('a\\\\1')).toBeNull();
		expect(problemOf('\\101')).toBeNull();
		expect(pathPattern('^/\\101$').matches('/A')).toBe(true);
	});
});

test.each([
	['^/clocks$', { start: true, end: true }],
	['/clocks', { start: false, end: false }],
	['^/clocks\\$', { start: true, end: false }],
	['^/clocks\\\\$', { start: true, end: true }],
	['^/clocks|/wheels$', { start: false, end: false }],
	['^/clocks$|^/wheels$', { start: true, end: true }],
	['^/(clocks|wheels)$', { start: true, end: true }],
	['(^/clocks|^/wheels)$', { start: true, end: true }],
	['(?:^/clocks|/wheels)$', { start: false, end: true }],
	['(^/clocks)?/a', { start: false, end: false }],
	['(?i)^/clocks(/a$|/b$)', { start: true, end: true }],
	['(?i:^/clocks(/a$|/b))', { start: true, end: false }],
	['(?P<all>^/a$)', { start: true, end: true }],
	['\\A/a\\z', { start: true, end: true }],
	['^*/a$*', { start: false, end: false }],
	['^/a[$]', { start: true, end: false }],
	['^/a[|]b$', { start: true, end: true }],
	['^\\Q/a|b\\E$', { start: true, end: true }],
	['^/a(b$|c$)?', { start: true, end: false }],
	['^\\Q/a$', { start: true, end: false }],
	['^/a\\Q$\\E$', { start: true, end: true }],
	['/a(?i)^', { start: false, end: false }],
	['(?i)(?s)^/a$', { start: true, end: true }],
	['(?is)^/a$', { start: true, end: true }],
	['(^/a)(b{2})$', { start: true, end: true }],
	['(^/a){0,1}$', { start: false, end: true }],
	['(?<all>^/a$)', { start: true, end: true }],
	['(?:^/a$)', { start: true, end: true }],
	['(?i-s:^/a$)', { start: true, end: true }],
	['(^/a\\)$|^/b$)', { start: true, end: true }],
	['(^/a[)]$|^/b$)', { start: true, end: true }],
	['(^/a[\\]]$)', { start: true, end: true }],
	['(^/a$', { start: false, end: true }],
	['$', { start: false, end: true }],
	['', { start: false, end: false }]
])('sees how %s is anchored', (pattern, expected) => {
	expect(anchoring(pattern)).toEqual(expected);
});

describe('the literal that every match contains', () => {
	test.each([
		['^/clocks/\\d+/notes$', '/clocks/'],
		['/a(b|c)/lessons', '/lessons'],
		['/colou?rs', '/colo'],
		['abc{2}d', 'abc'],
		['abc{0}d', null],
		['a|bcd', null],
		['(?i)clocks', null],
		['\\.pdf$', '.pdf'],
		['[]abc]/x', null],
		['[^]]def', 'def'],
		['\\101bcd/x', null],
		['\\0abc', null],
		['abc{00}d', null],
		['/für/x', '/für/x'],
		['ab🕰?cde', 'cde'],
		['a🕰b?', 'a🕰'],
		// Groups and classes are passed over to their ends, whatever stands escaped in them.
		['/x(a\\)b)/wheel', '/wheel'],
		['/x([)]b)/wheel', '/wheel'],
		['/x([\\])]b)/wheel', '/wheel'],
		['/x(a(b)c)/wheel', '/wheel'],
		['/x[a\\]b]/wheel', '/wheel'],
		['/x[]a]/wheel', '/wheel'],
		['/x[^]a]/wheel', '/wheel'],
		['/x[a:b]/wheel', '/wheel'],
		['/x[[a]/wheel', '/wheel'],
		['/x[[:alpha:]]/wheel', null],
		['/x([[:alpha:]])/wheel', null],
		['/x(a/wheel', null],
		['/x[a/wheel', null],
		// Of two that are as long, the first.
		['abc.def', 'abc'],
		['abc+def', 'abc'],
		['ab.cdefg', 'cdefg'],
		['abcd{2,}ef', 'abcd'],
		['abcd{2,3}ef', 'abcd'],
		['abcd{12}ef', 'abcd'],
		['abcd{x}ef', 'x}ef'],
		['ab^cd$ef.gh', null],
		['abc\\', 'abc']
	])('%s: %s', (pattern, literal) => {
		expect(requiredLiteral(pattern)).toBe(literal);
	});
});

const piece = fc.constantFrom(
	'/clock',
	'wheel',
	'a',
	'b?',
	'(ab|cd)',
	'[a-c]',
	'\\d+',
	'.',
	'x*',
	'oil{2}',
	'\\.pdf',
	'/'
);
const aPattern = fc
	.tuple(fc.boolean(), fc.array(piece, { minLength: 1, maxLength: 5 }), fc.boolean())
	.map(([start, pieces, end]) => `${start ? '^' : ''}${pieces.join('')}${end ? '$' : ''}`);
const aPath = fc
	.array(fc.constantFrom('/clock', 'wheel', 'a', 'b', 'ab', 'cd', 'c', '7', 'x', 'oill', '.pdf', '/'), {
		minLength: 1,
		maxLength: 6
	})
	.map((parts) => `/${parts.join('')}`);

describe('the shared subset of patterns', () => {
	it('matches as the built-in engine does, and never without its literal', () => {
		let matched = 0;
		fc.assert(
			fc.property(aPattern, aPath, (pattern, path) => {
				const isMatch = pathPattern(pattern).matches(path);
				expect(isMatch).toBe(new RegExp(pattern).test(path));
				const literal = requiredLiteral(pattern);
				if (isMatch) matched++;
				if (isMatch && literal !== null) expect(path).toContain(literal);
			}),
			{ seed: 11, numRuns: runs(3000) }
		);
		expect(matched).toBeGreaterThan(runs(100));
	});

	it('is found among many as it is alone', () => {
		fc.assert(
			fc.property(
				fc.array(aPattern, { minLength: 1, maxLength: 12 }),
				fc.array(fc.constantFrom('clock', 'eel', 'a/', 'll'), { maxLength: 4 }),
				aPath,
				(patterns, texts, path) => {
					const fences = [
						...patterns.map((pattern, n) => fence(`p${n}`, { kind: 'pattern', pattern }, [])),
						...texts.map((text, n) => fence(`t${n}`, { kind: 'containing', text }, []))
					];
					const expected = [
						...patterns.flatMap((pattern, n) => (new RegExp(pattern).test(path) ? [`p${n}`] : [])),
						...texts.flatMap((text, n) => (path.includes(text) ? [`t${n}`] : []))
					];
					const place = { resource: resource('x', { address: path }), address: path, homes: [] };
					expect(
						FenceIndex.of(fences)
							.catching(place)
							.map((caught) => caught.fence.id)
							.sort()
					).toEqual(expected.sort());
				}
			),
			{ seed: 12, numRuns: runs(500) }
		);
	});
});

describe('letters beyond ASCII', () => {
	const catches = (selector: Parameters<typeof fence>[1], typed: string) => {
		const normal = normalisePath(typed);
		if (!normal.ok) throw new Error(normal.code);
		const place = { resource: null, address: normal.path, homes: [] };
		return FenceIndex.of([fence('f', selector, [])]).catching(place).length;
	};

	test.each([
		[{ kind: 'containing', text: '/für' }, '/für/alle', 1],
		[{ kind: 'containing', text: 'fu\u0308r' }, '/für/alle', 1],
		[{ kind: 'containing', text: '/f%C3%BCr' }, '/für/alle', 1],
		[{ kind: 'containing', text: 'für' }, '/fur/alle', 0],
		[{ kind: 'containing', text: 'two words' }, '/two words', 1],
		[{ kind: 'pattern', pattern: '^/für/' }, '/für/alle', 1],
		[{ kind: 'pattern', pattern: '^/f.r$' }, '/für', 1],
		[{ kind: 'pattern', pattern: '^/f%C3%BCr$' }, '/für', 1],
		[{ kind: 'pattern', pattern: '^/\\p{Greek}+$' }, '/ωρολόγιο', 1],
		[{ kind: 'pattern', pattern: '^/100%$' }, '/100%25', 1],
		[{ kind: 'pattern', pattern: '^/für$' }, '/fur', 0]
	] as const)('%j in %s: %i', (selector, typed, expected) => {
		expect(catches(selector, typed)).toBe(expected);
	});

	it('catches once what matches in both spellings', () => {
		expect(catches({ kind: 'containing', text: '/' }, '/für')).toBe(1);
		expect(catches({ kind: 'pattern', pattern: '^/' }, '/für')).toBe(1);
	});
});

// Common practice, no source: the text `path` catches `/path/to/file.php`; the text `/` catches everything.
test.each([
	['path', '/path/to/file.php', true],
	['/', '/anything', true],
	['Path', '/path/to', false]
])('the text %s in %s', (text, address, expected) => {
	const index = FenceIndex.of([fence('f', { kind: 'containing', text }, [])]);
	expect(index.catching({ resource: null, address, homes: [] })).toHaveLength(expected ? 1 : 0);
});
