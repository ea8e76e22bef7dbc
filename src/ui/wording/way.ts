/** What a way of watching is, in words of the Desk. */
import type { Allowed, Going, Resting, WayOfWatching } from '$core/media/way';

export const GOING_WORDS: Record<Going, string> = {
	anywhere: 'Ahead and back, as they like',
	back: 'Only back, to where they have been',
	nowhere: 'Nowhere: it plays through'
};

export const RESTING_WORDS: Record<Resting, { label: string; detail: string }> = {
	all: { label: 'All of it', detail: 'Everything that they may do stands under the picture.' },
	few: { label: 'Play and the bar', detail: 'The rest comes behind one button.' },
	none: { label: 'Nothing', detail: 'It comes over the picture when they move, press a key or touch.' }
};

export const ALLOWED_WORDS: Record<Allowed, string> = {
	captions: 'See captions',
	chapters: 'See chapters',
	'full-screen': 'Make it large',
	'picture-in-picture': 'Watch it in a small window beside other work',
	quality: 'Choose how sharp the picture is',
	volume: 'Choose how loud it is'
};

const GOING_SHORT: Record<Going, string> = {
	anywhere: 'ahead and back',
	back: 'only back',
	nowhere: 'plays through'
};
const RESTING_SHORT: Record<Resting, string> = {
	all: 'all of the controls in sight',
	few: 'play and the bar in sight',
	none: 'nothing in sight'
};

/** In one line: "only back, 0.75 to 1.5 times as fast, play and the bar in sight". */
export function wayWords({ going, speeds, resting }: WayOfWatching): string {
	const [slowest = 1, fastest = 1] = [Math.min(...speeds), Math.max(...speeds)];
	const speed = speeds.length > 1 ? `${slowest} to ${fastest} times as fast` : 'at the usual speed';
	return `${GOING_SHORT[going]}, ${speed}, ${RESTING_SHORT[resting]}`;
}
