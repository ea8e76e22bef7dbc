import { describe, expect, it } from 'vitest';
import { fence, resource, source, within } from '../../../tests/support/access';
import { isCaughtAlike } from './ending';
import { compile } from './policy';

const shelf = resource('shelf', { kind: 'shelf' });
const table = resource('table', { kind: 'file', homeId: 'shelf', extension: 'pdf' });
const policyOf = (...endings: string[][]) =>
	compile(
		source({
			resources: [shelf, table],
			fences: endings.map((extensions, n) => fence(`f${n}`, within('shelf', { extensions }), []))
		})
	);

describe('a file of another ending', () => {
	it.each([
		['is caught alike where no fence asks for endings', [[]], 'zip', true],
		['is caught alike where it has the ending that it had', [['pdf']], 'pdf', true],
		['is caught alike where a fence names both', [['pdf', 'zip']], 'zip', true],
		['is caught alike where a fence names neither', [['csv']], 'zip', true],
		['is not caught any more where a fence names the old one', [['pdf']], 'zip', false],
		['is caught anew where a fence names the new one', [['zip']], 'zip', false],
		['is caught by another fence of the same number', [['pdf'], ['zip']], 'zip', false],
		['without an ending is not caught any more', [['pdf']], null, false],
		['without an ending is caught alike where none is asked for', [[]], null, true]
	] as const)('%s', (_, endings, extension, wanted) => {
		expect(isCaughtAlike(policyOf(...endings.map((one) => [...one])), 'table', extension)).toBe(wanted);
	});

	it('of something that the rules do not know changes nothing', () => {
		expect(isCaughtAlike(policyOf(['pdf']), 'gone', 'zip')).toBe(true);
	});
});
