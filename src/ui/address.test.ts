import { expect, it } from 'vitest';
import { asking } from './address';

it.each([
	['q=oil', { kind: 'video' }, '?q=oil&kind=video'],
	['q=oil&page=3', { q: 'brass', page: null }, '?q=brass'],
	['q=oil', { q: '' }, '?'],
	['', { home: 'ä/b' }, '?home=%C3%A4%2Fb']
])('%j with %j is %j', (before, changes, wanted) => {
	expect(asking(new URLSearchParams(before), changes)).toBe(wanted);
});
