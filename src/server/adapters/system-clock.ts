import type { Clock } from '../ports/clock';

export function systemClock(): Clock {
	let offset = 0;
	return {
		wall: () => Date.now(),
		business: () => Date.now() + offset,
		setOffset: (offsetMs) => void (offset = offsetMs)
	};
}
