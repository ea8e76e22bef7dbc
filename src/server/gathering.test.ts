import { describe, expect, it } from 'vitest';
import { gathering } from './gathering';

/** Writes batch by batch, each when it is let. */
function slow() {
	const batches: number[][] = [];
	const gates: { open(): void; fail(error: Error): void }[] = [];
	const writeAll = (all: readonly number[]) => {
		batches.push([...all]);
		return new Promise<number[]>((resolve, reject) =>
			gates.push({ open: () => resolve(all.map((n) => n * 10)), fail: reject })
		);
	};
	return { batches, gates, writeAll };
}
const moment = () => new Promise((resolve) => setImmediate(resolve));

describe('gathering', () => {
	it('writes the first at once, and what comes meanwhile together', async () => {
		const { batches, gates, writeAll } = slow();
		const write = gathering(100, writeAll);
		const answers = Promise.all([1, 2, 3].map(write));
		expect(batches).toEqual([[1]]);
		gates[0]?.open();
		await moment();
		expect(batches).toEqual([[1], [2, 3]]);
		gates[1]?.open();
		expect(await answers).toEqual([10, 20, 30]);
	});

	it('writes no more at once than it may, and forgets none', async () => {
		const sizes: number[] = [];
		const write = gathering(4, async (all: readonly number[]) => {
			sizes.push(all.length);
			await moment();
			return all.map((n) => -n);
		});
		const asked = Array.from({ length: 30 }, (_, n) => n);
		expect(await Promise.all(asked.map(write))).toEqual(asked.map((n) => -n));
		expect(Math.max(...sizes)).toBe(4);
		expect(sizes.reduce((sum, size) => sum + size)).toBe(30);
	});

	it('tells each of a batch that it failed, and goes on with the next', async () => {
		const { batches, gates, writeAll } = slow();
		const write = gathering(100, writeAll);
		const first = write(1);
		const lost = [write(2), write(3)].map((one) => one.catch((error: Error) => error.message));
		gates[0]?.open();
		expect(await first).toBe(10);
		await moment();
		gates[1]?.fail(new Error('no disk'));
		expect(await Promise.all(lost)).toEqual(['no disk', 'no disk']);
		const later = write(4);
		gates[2]?.open();
		expect(await later).toBe(40);
		expect(batches).toEqual([[1], [2, 3], [4]]);
	});
});
