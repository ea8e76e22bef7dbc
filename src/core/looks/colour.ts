/**
 * A publisher's colour, made readable.
 *
 * Text needs a contrast of 4.5 to 1 to what it stands on (WCAG 2.2, success criterion 1.4.3); relative luminance and contrast are
 * that document's. A colour that is too light or too dark for a theme is mixed with black or white, step by step, until it can
 * be read; what is readable stays as it is. Example: a bright yellow becomes a dark ochre on white, and stays itself on black.
 */

/** `#rrggbb`. */
export type Colour = `#${string}`;

/** Stile's own, where the publisher has none. */
export const OWN_COLOUR: Colour = '#2c6650';

export const LEAST_CONTRAST = 4.5;

/** Reads `#rrggbb`, in whichever case; `null`: it is none. */
export function readColour(text: string): Colour | null {
	const match = /^#([0-9a-f]{6})$/i.exec(text.trim());
	return match ? `#${match[1]?.toLowerCase() ?? ''}` : null;
}

type Channels = readonly [number, number, number];

function channels(colour: Colour): Channels {
	const at = (n: number) => parseInt(colour.slice(1 + 2 * n, 3 + 2 * n), 16);
	return [at(0), at(1), at(2)];
}

function written(all: Channels): Colour {
	return `#${all.map((value) => Math.round(value).toString(16).padStart(2, '0')).join('')}`;
}

/** From 0, black, to 1, white. */
export function luminance(colour: Colour): number {
	const [r, g, b] = channels(colour).map((value) => {
		const share = value / 255;
		return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
	}) as unknown as Channels;
	return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

/** From 1, none, to 21, black on white. */
export function contrast(a: Colour, b: Colour): number {
	const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number];
	return (light + 0.05) / (dark + 0.05);
}

/** @param share of the other colour, from 0 to 1 */
export function mixed(colour: Colour, other: Colour, share: number): Colour {
	const [from, to] = [channels(colour), channels(other)];
	return written(from.map((value, n) => value + ((to[n] ?? 0) - value) * share) as unknown as Channels);
}

const BLACK: Colour = '#000000';
const WHITE: Colour = '#ffffff';
const STEPS = 50;

/** The colour nearest to it that can be read on all of these, towards black or towards white. */
export function readableOn(colour: Colour, grounds: readonly Colour[], towards: 'black' | 'white'): Colour {
	const end = towards === 'black' ? BLACK : WHITE;
	for (let step = 0; step <= STEPS; step++) {
		const tone = mixed(colour, end, step / STEPS);
		if (grounds.every((ground) => contrast(tone, ground) >= LEAST_CONTRAST)) return tone;
	}
	return end;
}

/** What a theme takes from the publisher's colour. */
export interface Tones {
	/** Of links, and of buttons' ground. */
	moss: Colour;
	/** What is written on it. */
	onMoss: Colour;
	/** A breath of it, to lay under things. */
	mossWash: Colour;
}

/** What text stands on in each theme, as `ui/theme/theme.css` has it; light is first. */
const GROUNDS: { light: readonly Colour[]; dark: readonly Colour[] } = {
	light: ['#ffffff', '#eef2f1'],
	dark: ['#192227', '#10171b']
};
const WASH = { light: 0.88, dark: 0.82 };

export function tonesOf(colour: Colour): { light: Tones; dark: Tones } {
	const of = (theme: 'light' | 'dark'): Tones => {
		const [sheet = WHITE] = GROUNDS[theme];
		const mossWash = mixed(colour, sheet, WASH[theme]);
		const moss = readableOn(colour, [...GROUNDS[theme], mossWash], theme === 'light' ? 'black' : 'white');
		return { moss, onMoss: contrast(moss, WHITE) >= contrast(moss, BLACK) ? WHITE : BLACK, mossWash };
	};
	return { light: of('light'), dark: of('dark') };
}

/** The front's colours, as a style sheet. */
export function looksSheet(colour: Colour): string {
	const { light, dark } = tonesOf(colour);
	const rule = (selector: string, { moss, onMoss, mossWash }: Tones) =>
		`${selector}{--moss:${moss};--on-moss:${onMoss};--moss-wash:${mossWash}}`;
	// More than the theme's own rules weigh.
	return rule(':root:root', light) + rule(':root.dark', dark);
}
