import type { Instant } from '$core/time/instant';

/** Two clocks: wall for sessions, leases, proofs and rate limits; business for periods and windows. */
export interface Clock {
	wall(): Instant;
	business(): Instant;
	/** Takes over the offset of the business clock that the database holds. */
	setOffset(offsetMs: number): void;
}
