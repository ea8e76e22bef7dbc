/**
 * The standard rates of the European Union, to begin a table with.
 *
 * Values from memory, as they were in 2026: whoever puts them in is told to look at them first, and nothing counts by itself.
 */
import type { TaxRate } from './tax';

const RATES: readonly [country: string, name: string, percent: number, from: string][] = [
	['AT', 'USt', 20, '2016-01-01'],
	['BE', 'TVA/BTW', 21, '2016-01-01'],
	['BG', 'ДДС', 20, '2016-01-01'],
	['CY', 'ΦΠΑ', 19, '2016-01-01'],
	['CZ', 'DPH', 21, '2016-01-01'],
	['DE', 'USt', 19, '2021-01-01'],
	['DK', 'moms', 25, '2016-01-01'],
	['EE', 'km', 22, '2024-01-01'],
	['EE', 'km', 24, '2025-07-01'],
	['ES', 'IVA', 21, '2016-01-01'],
	['FI', 'ALV', 24, '2016-01-01'],
	['FI', 'ALV', 25.5, '2024-09-01'],
	['FR', 'TVA', 20, '2016-01-01'],
	['GR', 'ΦΠΑ', 24, '2016-06-01'],
	['HR', 'PDV', 25, '2016-01-01'],
	['HU', 'ÁFA', 27, '2016-01-01'],
	['IE', 'VAT', 23, '2021-03-01'],
	['IT', 'IVA', 22, '2016-01-01'],
	['LT', 'PVM', 21, '2016-01-01'],
	['LU', 'TVA', 17, '2024-01-01'],
	['LV', 'PVN', 21, '2016-01-01'],
	['MT', 'VAT', 18, '2016-01-01'],
	['NL', 'btw', 21, '2016-01-01'],
	['PL', 'VAT', 23, '2016-01-01'],
	['PT', 'IVA', 23, '2016-01-01'],
	['RO', 'TVA', 19, '2017-01-01'],
	['RO', 'TVA', 21, '2025-08-01'],
	['SE', 'moms', 25, '2016-01-01'],
	['SI', 'DDV', 22, '2016-01-01'],
	['SK', 'DPH', 20, '2016-01-01'],
	['SK', 'DPH', 23, '2025-01-01']
];

export const UNION_RATES: readonly TaxRate[] = RATES.map(([country, name, percent, from]) => ({
	...{ country, name, from },
	rate: Math.round(percent * 1000)
}));
