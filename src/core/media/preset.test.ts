import { describe, expect, it, test } from 'vitest';
import { CONTROLS, DEFAULT_PRESET, highestSpeed, maySeek, readPreset, SPEEDS } from './preset';

const typed = {
	accent: '#2C6650',
	controls: ['speed', 'seek'],
	speeds: ['2', 0.5],
	seeking: 'back',
	isFolded: true,
	startsMuted: true
};

describe('a preset', () => {
	it('is read as a form sends it: controls and speeds in our order, the usual speed always among them', () => {
		expect(readPreset(typed)).toEqual({
			accent: '#2c6650',
			controls: ['seek', 'speed'],
			speeds: [0.5, 1, 2],
			seeking: 'back',
			isFolded: true,
			startsMuted: true
		});
	});

	it('has everything that may be chosen, and the default one as it is', () => {
		expect(readPreset({ ...typed, controls: [...CONTROLS], speeds: [...SPEEDS] })).toMatchObject({
			controls: [
				'seek',
				'volume',
				'speed',
				'captions',
				'chapters',
				'quality',
				'picture-in-picture',
				'full-screen'
			],
			speeds: [0.5, 0.75, 1, 1.25, 1.5, 1.75, 2, 3]
		});
		expect(readPreset(DEFAULT_PRESET)).toEqual({
			accent: null,
			controls: [...CONTROLS],
			speeds: [0.75, 1, 1.25, 1.5, 2],
			seeking: 'free',
			isFolded: false,
			startsMuted: false
		});
	});

	test.each([
		[{ accent: null }, { accent: null }],
		[{ accent: '' }, { accent: null }],
		[{ seeking: 'sideways' }, { seeking: 'free' }],
		[{ isFolded: 'yes' }, { isFolded: false }],
		[{ startsMuted: 1 }, { startsMuted: false }],
		[{ controls: 'seek' }, { controls: [] }],
		[{ controls: ['rewind'] }, { controls: [] }],
		[{ speeds: null }, { speeds: [1] }],
		[{ speeds: [9] }, { speeds: [1] }]
	])('%j is taken as %j', (part, expected) => {
		expect(readPreset({ ...typed, ...part })).toMatchObject(expected);
	});

	test.each([
		['nothing', null],
		['a text', 'preset'],
		['a colour by its name', { ...typed, accent: 'red' }],
		['a colour with too much', { ...typed, accent: '#2c66500' }],
		['something before a colour', { ...typed, accent: 'x#2c6650' }],
		['a short colour', { ...typed, accent: '#fff' }],
		['no colour at all', { ...typed, accent: undefined }]
	])('%s is none', (_, value) => {
		expect(readPreset(value)).toBeNull();
	});

	it('lets keys keep up with its highest speed, and with the usual one at least', () => {
		expect(highestSpeed({ ...DEFAULT_PRESET, speeds: [1, 1.5, 3] })).toBe(3);
		expect(highestSpeed({ ...DEFAULT_PRESET, speeds: [0.5] })).toBe(1);
		expect(highestSpeed({ ...DEFAULT_PRESET, speeds: [] })).toBe(1);
	});

	test.each([
		['free', 90, 60, true],
		['back', 59, 60, true],
		['back', 60, 60, true],
		['back', 61, 60, false]
	] as const)(
		'with seeking “%s”, whoever has been to %d may go to %d: %s',
		(seeking, to, reached, expected) => {
			expect(maySeek(seeking, to, reached)).toBe(expected);
		}
	);
});
