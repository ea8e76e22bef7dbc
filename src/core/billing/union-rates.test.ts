import { expect, it } from 'vitest';
import { UNION } from '../text/countries';
import { rateOn, rateProblems } from './tax';
import { UNION_RATES } from './union-rates';

it('has a rate for each member state on a day of 2026, and no row that would be refused', () => {
	expect(rateProblems(UNION_RATES).filter((problem) => problem !== null)).toEqual([]);
	for (const country of UNION) {
		const found = rateOn(UNION_RATES, country, '2026-01-01');
		// No member state may ask for less (Directive 2006/112/EC, Article 97).
		expect(found?.rate).toBeGreaterThanOrEqual(15_000);
	}
});
