import { expect, it } from 'vitest';
import { placeName } from './names';

const PLACES = {
	tables: { title: 'Tables', homeId: null },
	wheels: { title: 'Wheels', homeId: 'tables' },
	lost: { title: 'Lost', homeId: 'gone' },
	round: { title: 'Round', homeId: 'round' }
};

it('names a place after those it lives in', () => {
	expect(placeName(PLACES, 'tables')).toBe('Tables');
	expect(placeName(PLACES, 'wheels')).toBe('Tables / Wheels');
	expect(placeName(PLACES, 'lost')).toBe('something that is gone / Lost');
});

it('comes to an end where something lives in itself', () => {
	expect(placeName(PLACES, 'round').split(' / ')).toHaveLength(32);
});
