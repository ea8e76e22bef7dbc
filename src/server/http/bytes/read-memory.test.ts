import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ReadMemory } from './read-memory';

const KB = 1024;
const memory = () => new ReadMemory(1024 * KB, 4 * KB, 128 * KB);

describe('the memory of readers', () => {
	it('gives one reader large pieces, and no more than is wanted', () => {
		expect(memory().take(10_000 * KB).length).toBe(128 * KB);
		expect(memory().take(5 * KB).length).toBe(8 * KB);
		expect(memory().take(1).length).toBe(4 * KB);
	});

	it('gives many readers small ones', () => {
		const own = memory();
		const pieces = Array.from({ length: 200 }, () => own.take(10_000 * KB));
		expect(pieces.at(-1)?.length).toBe(4 * KB);
		// The total, and the least piece for those who came after it was spent.
		expect(own.held.inUse).toBeLessThanOrEqual((1024 + 200 * 4) * KB);
	});

	it('uses a piece again', () => {
		const own = memory();
		const piece = own.take(64 * KB);
		own.giveBack(piece);
		expect(own.take(64 * KB)).toBe(piece);
		expect(own.held).toEqual({ inUse: 64 * KB, idle: 0 });
	});

	it('keeps within the total whatever is taken and given back', () => {
		const steps = fc.array(fc.tuple(fc.boolean(), fc.integer({ min: 1, max: 300 * KB })), { maxLength: 120 });
		fc.assert(
			fc.property(steps, (all) => {
				const own = memory();
				const held: Buffer[] = [];
				for (const [isTaking, size] of all) {
					if (isTaking) held.push(own.take(size));
					else if (held.length > 0) own.giveBack(held.splice(size % held.length, 1)[0] as Buffer);
					const inUse = held.reduce((sum, { length }) => sum + length, 0);
					expect(own.held.inUse).toBe(inUse);
					expect(own.held.idle).toBeGreaterThanOrEqual(0);
					if (own.held.idle > 0) expect(inUse + own.held.idle).toBeLessThanOrEqual((1024 + 128) * KB);
				}
			}),
			{ seed: 48, numRuns: 200 }
		);
	});
});
