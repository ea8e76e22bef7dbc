import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { runs } from '../../../tests/support/runs';
import { COUNTRIES, UNION } from '../text/countries';
import { readTaxId } from './tax-id';

// Numbers that the documentation of python-stdnum gives as valid, one of each member state and three neighbours.
const VALID: [string, string, string][] = [
	['AT', 'U13585627', 'ATU13585627'],
	['BE', 'BE403019261', 'BE0403019261'],
	['BG', 'BG 175 074 752', 'BG175074752'],
	['CY', 'CY-10259033P', 'CY10259033P'],
	['CZ', 'CZ 25123891', 'CZ25123891'],
	['DE', 'DE 136,695 976', 'DE136695976'],
	['DK', 'DK 13585628', 'DK13585628'],
	['EE', 'EE 100 931 558', 'EE100931558'],
	['ES', 'ES X-5253868-R', 'ESX5253868R'],
	['FI', 'FI 20774740', 'FI20774740'],
	['FR', 'Fr 40 303 265 045', 'FR40303265045'],
	['GR', 'EL 094259216', 'EL094259216'],
	['HR', 'HR 33392005961', 'HR33392005961'],
	['HU', 'HU-12892312', 'HU12892312'],
	['IE', 'IE 6433435F', 'IE6433435F'],
	['IT', 'IT 00743110157', 'IT00743110157'],
	['LT', '119511515', 'LT119511515'],
	['LU', 'LU 150 274 42', 'LU15027442'],
	['LV', 'LV 4000 3521 600', 'LV40003521600'],
	['MT', 'MT 1167-9112', 'MT11679112'],
	['NL', '004495445B01', 'NL004495445B01'],
	['PL', 'PL 8567346215', 'PL8567346215'],
	['PT', 'PT 501 964 843', 'PT501964843'],
	['RO', 'RO 185 472 90', 'RO18547290'],
	['SE', 'SE 123456789701', 'SE123456789701'],
	['SI', 'SI 5022 3054', 'SI50223054'],
	['SK', 'SK 202 274 96 19', 'SK2022749619'],
	['CH', 'CHE-107.787.577 IVA', 'CHE107787577IVA'],
	['GB', 'GB 980 7806 84', 'GB980780684'],
	['NO', 'NO 995 525 828 MVA', 'NO995525828MVA']
];

describe('a tax number', () => {
	test.each(VALID)('of %s is read as it is typed: %s', (country, typed, expected) => {
		expect(readTaxId(country, typed)).toEqual({ ok: true, taxId: expected });
		// And as it is kept, which is how it is shown again.
		expect(readTaxId(country, expected)).toEqual({ ok: true, taxId: expected });
	});

	it('is known of every member state', () => {
		expect(VALID.map(([country]) => country)).toEqual(expect.arrayContaining([...UNION]));
	});

	test.each(VALID.filter(([country]) => !['NL'].includes(country)))(
		'of %s with its last digit but one changed is none: %s',
		(country, _typed, kept) => {
			const at = [...kept].findLastIndex((sign, n) => /\d/.test(sign) && /\d/.test(kept.slice(n + 1)));
			const wrong = kept.slice(0, at) + ((Number(kept[at]) + 1) % 10) + kept.slice(at + 1);
			expect(readTaxId(country, wrong).ok).toBe(false);
		}
	);

	test.each([
		['with the letters of another country', 'DE', 'FR40303265045', 'other-country'],
		['with a digit that was typed wrong', 'DE', '136695977', 'not-its-digits'],
		['that is too short', 'DE', 'DE1366959', 'not-its-form'],
		['that is words', 'DE', 'hello', 'not-its-form'],
		['that is nothing', 'DE', '', 'not-its-form'],
		['of elsewhere that is too short', 'US', '123', 'not-its-form'],
		['of elsewhere with other signs', 'US', '<b>1234</b>', 'not-its-form']
	])('%s is refused', (_name, country, typed, code) => {
		expect(readTaxId(country, typed)).toEqual({ ok: false, code });
	});

	it('of elsewhere is kept as it is', () => {
		expect(readTaxId('US', '12-3456789')).toEqual({ ok: true, taxId: '123456789' });
	});

	it('is read or refused, whatever is typed, and reading it again changes nothing', () => {
		fc.assert(
			fc.property(fc.constantFrom(...COUNTRIES), fc.string({ maxLength: 30 }), (country, typed) => {
				const read = readTaxId(country, typed);
				if (read.ok) expect(readTaxId(country, read.taxId)).toEqual(read);
			}),
			{ seed: 20_261_202, numRuns: runs(2000) }
		);
	});
});
