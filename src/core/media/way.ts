/**
 * A way of watching: what viewers of a film or recording may do, and how much of the controls rests in sight. One of them is
 * the usual one, and an item can have another.
 *
 * What is left out cannot be done by the keyboard either. It shapes our player; it is no protection: the stream itself can
 * be played by other means for as long as access lasts.
 */

/** Beside going to another place and choosing a speed, which are more than yes or no. */
export const ALLOWED = [
	'captions',
	'chapters',
	'full-screen',
	'picture-in-picture',
	'quality',
	'volume'
] as const;
export type Allowed = (typeof ALLOWED)[number];

/** `back`: only to where somebody has been already. `nowhere`: it plays through, and from the beginning again. */
export const GOING = ['anywhere', 'back', 'nowhere'] as const;
export type Going = (typeof GOING)[number];

/** `few`: play and the bar, the rest behind one button. `none`: they come when somebody moves, presses or touches. */
export const RESTING = ['all', 'few', 'none'] as const;
export type Resting = (typeof RESTING)[number];

export const SPEEDS = [0.5, 0.75, 1, 1.25, 1.5, 1.75, 2, 3] as const;

export interface WayOfWatching {
	/** A colour as `#rrggbb`; `null`: the site's. */
	accent: string | null;
	may: Allowed[];
	/** The usual one is always among them; alone, there is nothing to choose. */
	speeds: number[];
	going: Going;
	resting: Resting;
	startsMuted: boolean;
}

/** What counts where there is none, and what a new one begins with. */
export const USUAL_WAY: WayOfWatching = {
	accent: null,
	may: [...ALLOWED],
	speeds: [0.75, 1, 1.25, 1.5, 2],
	going: 'anywhere',
	resting: 'all',
	startsMuted: false
};

/** Reads what a form or the database holds; `null` where it is no way of watching. */
export function readWay(value: unknown): WayOfWatching | null {
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
		may: ALLOWED.filter((one) => has(raw.may, one)),
		speeds: [...speeds],
		going: GOING.find((one) => one === raw.going) ?? 'anywhere',
		resting: RESTING.find((one) => one === raw.resting) ?? 'all',
		startsMuted: raw.startsMuted === true
	};
}

/** The highest speed that a stream's keys must keep up with. */
export function highestSpeed({ speeds }: Pick<WayOfWatching, 'speeds'>): number {
	return Math.max(1, ...speeds);
}

/**
 * Whether the player may go to a moment, where somebody has been up to `reached` already.
 *
 * @param to in seconds
 * @param reached in seconds; where it only plays through: where it is now
 * @param slack in seconds; what playing may have added since that was looked at
 */
export function maySeek(going: Going, to: number, reached: number, slack = 0): boolean {
	if (going === 'anywhere') return true;
	if (going === 'back') return to <= reached + slack;
	return to <= slack || Math.abs(to - reached) <= slack;
}
