import fc from 'fast-check';
import { expect, it } from 'vitest';
import { STATEMENT_NAME, statementNameOf } from './statement-name';

it.each([
	['Fernhollow Clock School', 'FERNHOLLOW CLOCK'],
	['Clocks', 'CLOCKS'],
	['Übung & Maß', 'UBUNG MASS'],
	['Abcdefghijklmnopqrstuvwxyz', 'ABCDEFGHIJKLMNOPQRSTUV'],
	['時計の学校', 'STILE'],
	['Abc', 'STILE']
])('proposes for %s: %s', (siteName, expected) => {
	expect(statementNameOf(siteName)).toBe(expected);
});

it('always proposes what a card statement can show', () => {
	fc.assert(
		fc.property(fc.string({ unit: 'grapheme' }), (name) => STATEMENT_NAME.test(statementNameOf(name))),
		{ seed: 7 }
	);
});
