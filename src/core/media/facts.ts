/** What was read from a file and is shown of it. */
export interface MediaFacts {
	/** As the format calls itself, such as `mov,mp4`. */
	container?: string;
	/** Names of the codecs, picture first. */
	codecs?: string[];
	bitsPerSecond?: number;
	/** Of a PDF. */
	pages?: number;
	/** Integrated loudness (EBU R 128), in LUFS, and the highest true peak, in dBTP. */
	loudness?: { integrated: number; peak: number };
	/** Heights of the peaks of the sound, 0 to 1, evenly over its length. */
	peaks?: number[];
	/** A sheet of small pictures for the bar: one every so many seconds, left to right and top to bottom. */
	thumbs?: { everySeconds: number; columns: number; count: number; width: number; height: number };
}
