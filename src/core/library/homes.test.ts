import { expect, it, test } from 'vitest';
import { RESOURCE_KINDS } from '../access/model';
import { canLiveIn, HOMES, livesInItself, NEEDS_HOME } from './homes';

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
