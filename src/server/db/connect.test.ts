import { setTimeout as sleep } from 'node:timers/promises';
import { expect, it, vi } from 'vitest';
import { unlessWithin } from './connect';

const WAIT_MS = 100;

/** As a machine that is put to sleep: nothing runs, and the clock goes on. */
function standStill(ms: number): void {
	Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, ms);
}

it('tells whoever waits that it is late, and not whoever was answered', async () => {
	const late = vi.fn();
	const early = vi.fn();
	unlessWithin(WAIT_MS, late);
	unlessWithin(WAIT_MS, early)();
	await vi.waitFor(() => expect(late).toHaveBeenCalledOnce(), { timeout: 10_000 });
	expect(early).not.toHaveBeenCalled();
});

it('takes nobody for late while the process stood still, and lets what was answered meanwhile come first', async () => {
	const late = vi.fn();
	const answered = unlessWithin(WAIT_MS, late);
	setImmediate(() => standStill(2 * WAIT_MS));
	await sleep(1);
	await new Promise((resolve) => setImmediate(resolve));
	expect(late).not.toHaveBeenCalled();
	answered();
	await sleep(2 * WAIT_MS);
	expect(late).not.toHaveBeenCalled();
});
