/**
 * Memory for bytes on their way from storage to readers: one total for all of them.
 *
 * A single reader gets large pieces, which is quick; the more there are, the smaller their pieces, so that 500 slow
 * readers hold no more memory than one. Example: of 20 MB with nobody reading, a piece is 2 MB; with 12 MB in use, 1 MB.
 */
const KB = 1024;
export const TOTAL_BYTES = 20 * KB * KB;
export const LEAST_BYTES = 16 * KB;
export const MOST_BYTES = 2 * KB * KB;

/** A piece is at most this share of what is free, so that the total is approached and never passed by much. */
const SHARE = 8;

export class ReadMemory {
	private inUse = 0;
	/** Pieces that were given back, by size: a power of two. */
	private readonly idle = new Map<number, Buffer[]>();
	private idleBytes = 0;

	constructor(
		private readonly total = TOTAL_BYTES,
		private readonly least = LEAST_BYTES,
		private readonly most = MOST_BYTES
	) {}

	/** A piece of memory, of at most `wanted` bytes or the next power of two. Give it back. */
	take(wanted: number): Buffer {
		const fair = Math.min(this.most, (this.total - this.inUse) / SHARE);
		const size = powerOfTwo(Math.max(this.least, Math.min(fair, wanted)), wanted <= fair);
		this.inUse += size;
		const known = this.idle.get(size)?.pop();
		if (known) {
			this.idleBytes -= size;
			return known;
		}
		// Pieces of another size make room, rather than that new ones are made and dropped for each read.
		while (this.idleBytes > 0 && this.inUse + this.idleBytes > this.total) this.dropLargest();
		return Buffer.allocUnsafeSlow(size);
	}

	giveBack(piece: Buffer): void {
		this.inUse -= piece.length;
		// What is kept for later counts, too: all together stays within the total.
		if (this.inUse + this.idleBytes + piece.length > this.total) return;
		const known = this.idle.get(piece.length);
		if (known) known.push(piece);
		else this.idle.set(piece.length, [piece]);
		this.idleBytes += piece.length;
	}

	private dropLargest(): void {
		const sizes = [...this.idle.entries()].filter(([, pieces]) => pieces.length > 0).map(([size]) => size);
		const largest = Math.max(...sizes);
		this.idle.get(largest)?.pop();
		this.idleBytes -= largest;
	}

	/** What readers hold, and what is kept for the next ones. */
	get held(): { inUse: number; idle: number } {
		return { inUse: this.inUse, idle: this.idleBytes };
	}
}

function powerOfTwo(bytes: number, isUpward: boolean): number {
	const exponent = Math.log2(bytes);
	return 2 ** (isUpward ? Math.ceil(exponent) : Math.floor(exponent));
}
