/**
 * How the player looks and what it lets people do. A default for the site, and one for an item where it is chosen.
 *
 * What is left out cannot be done by the keyboard either. It shapes our player; it is no protection: the stream itself can
 * be played by other means for as long as access lasts.
 */

export const CONTROLS = [
	'seek',
	'volume',
	'speed',
	'captions',
	'chapters',
	'quality',
	'picture-in-picture',
	'full-screen'
] as const;
export type Control = (typeof CONTROLS)[number];

export const SPEEDS = [0.5, 0.75, 1, 1.25, 1.5, 1.75, 2, 3] as const;

export interface PlayerPreset {
	/** A colour as `#rrggbb`; `null`: the site's. */
	accent: string | null;
	controls: Control[];
	speeds: number[];
	/** `back`: only to where somebody has been already. */
	seeking: 'free' | 'back';
	/** Everything but play and the bar stands behind one button. */
	isFolded: boolean;
	startsMuted: boolean;
}

export const DEFAULT_PRESET: PlayerPreset = {
	accent: null,
	controls: [...CONTROLS],
	speeds: [0.75, 1, 1.25, 1.5, 2],
	seeking: 'free',
	isFolded: false,
	startsMuted: false
};

/** Reads what a form or the database holds; `null` where it is no preset. */
export function readPreset(value: unknown): PlayerPreset | null {
	if (typeof value !== 'object' || value === null) return null;
	const raw = value as Record<string, unknown>;
	const accent = raw.accent === null || raw.accent === '' ? null : String(raw.accent);
	if (accent !== null && !/^#[0-9a-f]{6}$/i.test(accent)) return null;
	const has = (list: unknown, one: unknown) => Array.isArray(list) && list.includes(one);
	const speeds = SPEEDS.filter(
		(speed) => has(raw.speeds, speed) || has(raw.speeds, String(speed)) || speed === 1
	);
	return {
		accent: accent?.toLowerCase() ?? null,
		controls: CONTROLS.filter((control) => has(raw.controls, control)),
		speeds: [...speeds],
		seeking: raw.seeking === 'back' ? 'back' : 'free',
		isFolded: raw.isFolded === true,
		startsMuted: raw.startsMuted === true
	};
}

/** The highest speed that a stream's keys must keep up with. */
export function highestSpeed({ speeds }: PlayerPreset): number {
	return Math.max(1, ...speeds);
}

/** Whether the player may go to a moment, where somebody has been up to `reached` already. */
export function maySeek(seeking: PlayerPreset['seeking'], to: number, reached: number): boolean {
	return seeking === 'free' || to <= reached;
}
