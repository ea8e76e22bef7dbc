import { expect, test } from 'vitest';
import { ownPath } from './cookies';

test.each([
	['/videos/wheel', '/videos/wheel'],
	['/a?b=c', '/a?b=c'],
	[null, '/account'],
	['', '/account'],
	['https://clock.example/', '/account'],
	['//clock.example/', '/account'],
	['/\\clock.example/', '/account'],
	['/a\\b', '/account'],
	['/a b', '/account'],
	['javascript:alert(1)', '/account']
])('%j leads to %s', (text, path) => {
	expect(ownPath(text, '/account')).toBe(path);
});
