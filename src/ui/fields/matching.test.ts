import { describe, expect, it } from 'vitest';
import { matching } from './matching';

const ZONES = ['Europe/Berlin', 'Europe/Zürich', 'America/New_York', 'Berlin Time'].map((label) => ({
	value: label,
	label
}));
const found = (typed: string) => matching(ZONES, typed).map(({ label }) => label);

describe('what is found by typing', () => {
	it('is everything while nothing is typed', () => {
		expect(found('  ')).toEqual(ZONES.map(({ label }) => label));
	});

	it('leaves out case and accents', () => {
		expect(found('ZURICH')).toEqual(['Europe/Zürich']);
		expect(found('zürich')).toEqual(['Europe/Zürich']);
	});

	it('needs every word, wherever it stands', () => {
		expect(found('ber eur')).toEqual(['Europe/Berlin']);
		expect(found('eur york')).toEqual([]);
	});

	it('puts first what begins with it', () => {
		expect(found('berlin')).toEqual(['Berlin Time', 'Europe/Berlin']);
	});

	it('looks at what tells two of a name apart', () => {
		const two = [
			{ value: '1', label: 'Plates', detail: 'Strip and strike' },
			{ value: '2', label: 'Plates', detail: 'Lathe' }
		];
		expect(matching(two, 'plates lathe').map(({ value }) => value)).toEqual(['2']);
	});
});
