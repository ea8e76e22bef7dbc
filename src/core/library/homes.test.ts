import { describe, expect, it, test } from 'vitest';
import { RESOURCE_KINDS } from '../access/model';
import { canLiveIn, homeProblem, HOMES, livesInItself, NEEDS_HOME, type Housed } from './homes';

test.each([
	['lesson', 'section', true],
	['lesson', 'show', false],
	['episode', 'show', true],
	['shelf', 'shelf', true],
	['course', 'shelf', false],
	['page', 'page', true],
	['file', 'shelf', true]
] as const)('a %s in a %s: %s', (kind, home, expected) => {
	expect(canLiveIn(kind, home)).toBe(expected);
});

it('gives every kind that needs a home somewhere to live', () => {
	expect(RESOURCE_KINDS.length).toBeGreaterThan(10);
	for (const kind of RESOURCE_KINDS) if (NEEDS_HOME.has(kind)) expect(HOMES[kind]).not.toEqual([]);
});

it('puts nothing inside itself, at any depth', () => {
	const homes: Record<string, string | null> = { a: null, b: 'a', c: 'b' };
	const homeOf = (id: string) => homes[id] ?? null;
	expect(livesInItself('a', 'c', homeOf)).toBe(true);
	expect(livesInItself('a', 'a', homeOf)).toBe(true);
	expect(livesInItself('c', 'a', homeOf)).toBe(false);
	expect(livesInItself('c', null, homeOf)).toBe(false);
});

describe('a home', () => {
	const things = {
		course: { kind: 'course', homeId: null },
		section: { kind: 'section', homeId: 'course' },
		outer: { kind: 'shelf', homeId: null },
		inner: { kind: 'shelf', homeId: 'outer' }
	} as const;
	const find = (id: string) => (things as Record<string, Housed>)[id] ?? null;

	test.each([
		['a lesson in a section', { id: 'new', kind: 'lesson', homeId: 'section' }, null],
		['a lesson on a shelf', { id: 'new', kind: 'lesson', homeId: 'outer' }, 'wrong-home'],
		['a lesson nowhere', { id: 'new', kind: 'lesson', homeId: null }, 'needs-home'],
		['a film nowhere', { id: 'new', kind: 'video', homeId: null }, null],
		['a film in what is not there', { id: 'new', kind: 'video', homeId: 'gone' }, 'wrong-home'],
		['a shelf in itself', { id: 'outer', kind: 'shelf', homeId: 'outer' }, 'home-within-itself'],
		['a shelf in what lives in it', { id: 'outer', kind: 'shelf', homeId: 'inner' }, 'home-within-itself']
	] as const)('of %s', (_name, thing, expected) => {
		expect(homeProblem(thing, find)).toBe(expected);
	});
});
