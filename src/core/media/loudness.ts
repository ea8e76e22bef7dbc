/**
 * How much louder or softer a recording is made, so that all sound alike (EBU R 128; for spoken word on the web -16 LUFS is
 * common practice, no source).
 *
 * Example: measured at -23 LUFS, 7 dB are added; peaks that would then be too high are limited, not cut.
 */
export const TARGET_LUFS = -16;

/** Noise that is lifted too far is only louder noise. */
const MOST_GAIN_DB = 20;

export function gainTo({ integrated }: { integrated: number }, target = TARGET_LUFS): number {
	const gain = target - integrated;
	return Math.max(-MOST_GAIN_DB, Math.min(MOST_GAIN_DB, gain));
}
