import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { describe, expect, it, test } from 'vitest';
import { runs } from '../../../tests/support/runs';
import {
	contrast,
	LEAST_CONTRAST,
	looksSheet,
	luminance,
	mixed,
	readableOn,
	readColour,
	tonesOf,
	type Colour
} from './colour';

describe('contrast', () => {
	// WCAG 2.2, relative luminance and contrast ratio; #767676 is the lightest grey that its techniques (G18) pass on white, values from memory.
	test.each<[Colour, Colour, number]>([
		['#000000', '#ffffff', 21],
		['#ffffff', '#ffffff', 1],
		['#767676', '#ffffff', 4.54],
		['#777777', '#ffffff', 4.48],
		['#ff0000', '#ffffff', 4.0],
		['#0000ff', '#ffffff', 8.59]
	])('of %s to %s is %d, either way', (a, b, expected) => {
		expect(contrast(a, b)).toBeCloseTo(expected, 2);
		expect(contrast(b, a)).toBe(contrast(a, b));
	});

	it('is of luminance, in which green weighs most', () => {
		expect([luminance('#000000'), luminance('#ffffff')]).toEqual([0, 1]);
		expect(luminance('#00ff00')).toBeCloseTo(0.7152, 4);
	});
});

describe('a colour that was typed', () => {
	test.each([
		['#2C6650', '#2c6650'],
		[' #ffffff ', '#ffffff'],
		['2c6650', null],
		['#fff', null],
		['#2c66501', null],
		['#gggggg', null],
		['red', null],
		['#000;}body{display:none', null]
	])('%j', (text, expected) => {
		expect(readColour(text)).toBe(expected);
	});
});

describe('what a theme takes from it', () => {
	const colour = fc
		.integer({ min: 0, max: 0xffffff })
		.map((n): Colour => `#${n.toString(16).padStart(6, '0')}`);

	it('is itself where it can be read, and else the nearest that can', () => {
		expect(tonesOf('#2c6650').light.moss).toBe('#2c6650');
		expect(readableOn('#f0b429', ['#000000'], 'white')).toBe('#f0b429');
		const ochre = readableOn('#f0b429', ['#ffffff'], 'black');
		expect(contrast(ochre, '#ffffff')).toBeGreaterThanOrEqual(LEAST_CONTRAST);
		expect(contrast(ochre, '#ffffff')).toBeLessThan(5);
	});

	it('can be read in both themes, whatever the colour is: as a link, on a button, on its own wash', () => {
		fc.assert(
			fc.property(colour, (own) => {
				const { light, dark } = tonesOf(own);
				for (const [tones, sheet, ground] of [
					[light, '#ffffff', '#eef2f1'],
					[dark, '#192227', '#10171b']
				] as const) {
					for (const on of [sheet, ground, tones.mossWash] as const)
						expect(contrast(tones.moss, on), `${own} on ${on}`).toBeGreaterThanOrEqual(LEAST_CONTRAST);
					expect(contrast(tones.onMoss, tones.moss), own).toBeGreaterThanOrEqual(LEAST_CONTRAST);
				}
			}),
			{ seed: 20_261_131, numRuns: runs(2000) }
		);
	});

	it('stands on what the theme says that it stands on', () => {
		const theme = readFileSync('src/ui/theme/theme.css', 'utf8');
		const [light = '', dark = ''] = theme.split('.dark {');
		for (const [part, grounds] of [
			[light, ['#ffffff', '#eef2f1']],
			[dark, ['#192227', '#10171b']]
		] as const) {
			expect(part).toContain(`--sheet: ${grounds[0]};`);
			expect(part).toContain(`--ground: ${grounds[1]};`);
		}
	});

	it('is mixed by shares', () => {
		expect(mixed('#000000', '#ffffff', 0.5)).toBe('#808080');
		expect(mixed('#123456', '#ffffff', 0)).toBe('#123456');
		expect(mixed('#123456', '#ffffff', 1)).toBe('#ffffff');
	});

	it('is written for both themes, with more weight than the theme’s own rules', () => {
		expect(looksSheet('#2c6650')).toMatch(
			/^:root:root\{--moss:#2c6650;--on-moss:#ffffff;.*\}:root\.dark\{--moss:#/
		);
	});
});
