import { expect, test } from 'vitest';
import { gainTo, TARGET_LUFS } from './loudness';

// Spoken word on the web at -16 LUFS: common practice, no source.
test.each([
	['as loud as it should be', TARGET_LUFS, 0],
	['softer', -23, 7],
	['louder', -10, -6],
	['so soft that only noise would be lifted', -60, 20],
	['far too loud', 9, -20]
])('what is %s is changed by its distance to the target, within 20 dB', (_, integrated, gain) => {
	expect(gainTo({ integrated })).toBe(gain);
});

test('another target is taken as it is given', () => {
	expect(gainTo({ integrated: -23 }, -23)).toBe(0);
	expect(gainTo({ integrated: -20 }, -14)).toBe(6);
});
