/**
 * Bytes that come as a stream, read as if they lay there: reads that follow each other share one stream, any other place
 * begins a new one.
 */
import type { Readable } from 'node:stream';
import type { OpenBytes } from '../ports/storage';

export interface StreamSource {
	size: number;
	changedAt: number;
	/** The bytes from `first` to the end. */
	from(first: number): Promise<Readable>;
}

export function streamedBytes(source: StreamSource): OpenBytes {
	let body: Readable | null = null;
	let at = -1;
	let chunks: AsyncIterator<Buffer> | null = null;
	let rest: Buffer = Buffer.alloc(0);

	function end(): void {
		body?.destroy();
		body = null;
		chunks = null;
		rest = Buffer.alloc(0);
	}

	return {
		size: source.size,
		changedAt: source.changedAt,
		async read(into, position) {
			if (position >= source.size) return 0;
			if (position !== at || chunks === null) {
				end();
				body = await source.from(position);
				chunks = body[Symbol.asyncIterator]() as AsyncIterator<Buffer>;
				at = position;
			}
			let filled = 0;
			while (filled < into.length) {
				if (rest.length === 0) {
					const { value, done } = await chunks.next();
					if (done) break;
					rest = value;
				}
				const count = rest.copy(into, filled);
				rest = rest.subarray(count);
				filled += count;
			}
			at += filled;
			return filled;
		},
		close: end
	};
}
