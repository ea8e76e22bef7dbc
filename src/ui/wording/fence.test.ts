import { expect, test } from 'vitest';
import type { Selector } from '$core/access/model';
import { selectorWords, windowWords, type FenceNames } from './fence';

const kinds = { tables: 'shelf', clock: 'course', suppliers: 'page' } as const;
const names: FenceNames = {
	resource: (id) => id,
	kind: (id) => kinds[id as keyof typeof kinds] ?? null,
	plan: (id) => id,
	category: (id) => id,
	tag: (id) => id,
	batch: (id) => id
};
const within = (collectionId: string, withPage = false, extensions: string[] = []): Selector => ({
	kind: 'within',
	collectionId,
	withPage,
	extensions
});

test.each([
	[within('tables', false, ['pdf']), 'every PDF on the shelf tables and the shelves in it'],
	[within('clock', true), 'everything in the course clock, its own page too'],
	[within('suppliers', true), 'everything below the page suppliers, that page too'],
	[{ kind: 'items', itemIds: ['a', 'b', 'c'] }, '“a”, “b” and 1 more'],
	[{ kind: 'items', itemIds: [] }, 'nothing: its items are gone'],
	[{ kind: 'path', path: '/' }, 'the home page'],
	[{ kind: 'kind', itemKind: 'video' }, 'every video'],
	[{ kind: 'everything' }, 'everything but sign-in, plans, checkout and accounts']
] as [Selector, string][])('%j: %s', (selector, words) => {
	expect(selectorWords(selector, names)).toBe(words);
});

test.each([
	[
		{ opens: { kind: 'after', count: 3, unit: 'week' }, closes: { kind: 'after', count: 1, unit: 'month' } },
		'after 3 weeks, for 1 month'
	],
	[{ opens: { kind: 'at-once' }, closes: { kind: 'never' } }, 'at once'],
	[{ opens: { kind: 'after', count: 0, unit: 'day' }, closes: { kind: 'never' } }, 'at once']
] as const)('the window %j: %s', (window, words) => {
	expect(windowWords(window, 'UTC')).toBe(words);
});
