/** Draws clockwork as SVG, for one moment of a loop: `turn` runs from 0 to 1 and the last moment meets the first. */

export const WIDTH = 640;
export const HEIGHT = 360;

const INK = '#14212B';
const BRASS = '#C89B3C';
const STEEL = '#8C9AA3';
const PAPER = '#EEF2F1';
const MOSS = '#2C6650';

const TAU = Math.PI * 2;

function at(cx: number, cy: number, r: number, angle: number): string {
	return `${(cx + r * Math.cos(angle)).toFixed(2)},${(cy + r * Math.sin(angle)).toFixed(2)}`;
}

/** A wheel with teeth and spokes; it turns by whole teeth, so that the loop closes. */
export function gear(
	cx: number,
	cy: number,
	r: number,
	teeth: number,
	pitches: number,
	turn: number,
	colour = BRASS
): string {
	const start = (pitches * turn * TAU) / teeth;
	const points: string[] = [];
	for (let tooth = 0; tooth < teeth; tooth++) {
		const angle = start + (tooth * TAU) / teeth;
		const step = TAU / teeth;
		points.push(at(cx, cy, r, angle), at(cx, cy, r * 1.12, angle + step * 0.2));
		points.push(at(cx, cy, r * 1.12, angle + step * 0.45), at(cx, cy, r, angle + step * 0.65));
	}
	const arms = [0, 1, 2, 3].map((arm) => {
		// Four arms look the same after a quarter turn; they follow the teeth.
		const angle = start + (arm * TAU) / 4;
		return `<path d="M${at(cx, cy, r * 0.18, angle)} L${at(cx, cy, r * 0.78, angle)}" stroke="${colour}" stroke-width="${r * 0.12}"/>`;
	});
	return `<polygon points="${points.join(' ')}" fill="${colour}"/><circle cx="${cx}" cy="${cy}" r="${r * 0.76}" fill="${PAPER}"/>
${arms.join('')}<circle cx="${cx}" cy="${cy}" r="${r * 0.2}" fill="${colour}"/><circle cx="${cx}" cy="${cy}" r="${r * 0.07}" fill="${INK}"/>`;
}

export function pendulum(cx: number, cy: number, length: number, turn: number): string {
	const angle = Math.PI / 2 + 0.28 * Math.sin(turn * TAU);
	const bob = at(cx, cy, length, angle);
	const [bx, by] = bob.split(',');
	return `<path d="M${cx},${cy} L${bob}" stroke="${STEEL}" stroke-width="5"/><circle cx="${bx}" cy="${by}" r="30" fill="${BRASS}"/>
<circle cx="${bx}" cy="${by}" r="8" fill="${INK}"/><circle cx="${cx}" cy="${cy}" r="7" fill="${INK}"/>`;
}

/** The anchor rocks over its wheel, a tooth for each swing. */
export function escapement(cx: number, cy: number, turn: number): string {
	const rock = 6 * Math.sin(turn * TAU);
	return `${gear(cx, cy + 70, 88, 24, 2, turn)}<g transform="rotate(${rock.toFixed(2)} ${cx} ${cy - 78})">
<path d="M${cx - 84},${cy - 4} Q${cx},${cy - 96} ${cx + 84},${cy - 4} l-18,14 Q${cx},${cy - 56} ${cx - 66},${cy + 10} z" fill="${STEEL}"/>
<circle cx="${cx}" cy="${cy - 78}" r="9" fill="${INK}"/></g>`;
}

export function bell(cx: number, cy: number, turn: number): string {
	const blow = Math.max(0, Math.sin(turn * TAU * 2)) * 26;
	return `<path d="M${cx - 90},${cy + 60} q10,-140 90,-140 q80,0 90,140 z" fill="${BRASS}"/><rect x="${cx - 104}" y="${cy + 58}" width="208" height="12" fill="${BRASS}"/>
<g transform="rotate(${(-blow).toFixed(2)} ${cx + 190} ${cy + 120})"><path d="M${cx + 190},${cy + 120} L${cx + 112},${cy + 10}" stroke="${STEEL}" stroke-width="9"/>
<circle cx="${cx + 108}" cy="${cy + 4}" r="17" fill="${INK}"/></g>`;
}

/** A dial whose hand goes round once in the loop. */
export function dial(cx: number, cy: number, r: number, turn: number): string {
	const marks = Array.from({ length: 12 }, (_, i) => {
		const angle = (i * TAU) / 12;
		return `<path d="M${at(cx, cy, r * 0.8, angle)} L${at(cx, cy, r * 0.92, angle)}" stroke="${INK}" stroke-width="4"/>`;
	});
	const hand = turn * TAU - Math.PI / 2;
	return `<circle cx="${cx}" cy="${cy}" r="${r}" fill="#fff" stroke="${INK}" stroke-width="5"/>${marks.join('')}
<path d="M${cx},${cy} L${at(cx, cy, r * 0.72, hand)}" stroke="${MOSS}" stroke-width="6" stroke-linecap="round"/><circle cx="${cx}" cy="${cy}" r="8" fill="${INK}"/>`;
}

/** Oil gathers at a pivot and falls. */
export function oiler(cx: number, cy: number, turn: number): string {
	const fall = turn * turn * 150;
	return `<path d="M${cx - 120},${cy - 150} L${cx},${cy - 60}" stroke="${STEEL}" stroke-width="7"/>
<circle cx="${cx}" cy="${(cy - 55 + fall).toFixed(2)}" r="${(6 + 3 * turn).toFixed(2)}" fill="${BRASS}"/>
<rect x="${cx - 170}" y="${cy + 104}" width="340" height="26" fill="${BRASS}"/><circle cx="${cx}" cy="${cy + 117}" r="12" fill="${INK}"/>`;
}

export function picture(parts: string, ground = PAPER): string {
	return `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}" viewBox="0 0 ${WIDTH} ${HEIGHT}" fill="none">
<rect width="${WIDTH}" height="${HEIGHT}" fill="${ground}"/><path d="M0 330H640" stroke="${INK}" stroke-width="3"/>${parts}</svg>`;
}
