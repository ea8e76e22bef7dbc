import { randomUUID } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { Counted, counted, percentOf } from './progress';

describe('how far a request has come', () => {
	it('is known by its key, and to nobody without one', () => {
		const key = randomUUID();
		const own = counted(key);
		own.expect(4);
		own.step();
		expect(percentOf(key)).toBe(25);
		expect(percentOf(randomUUID())).toBeNull();
		counted('not a key').expect(1);
		expect(percentOf('not a key')).toBeNull();
		counted(null).expect(1);
		expect(percentOf('null')).toBeNull();
	});

	it('is never all of it, and nothing before it is known how much there is', () => {
		const own = new Counted();
		own.step();
		expect(own.percent).toBe(0);
		own.expect(2);
		expect(own.percent).toBe(50);
		own.step();
		own.step();
		expect(own.percent).toBe(99);
	});

	it('is forgotten for the oldest where very many are asked for', () => {
		const first = randomUUID();
		counted(first).expect(1);
		for (let n = 0; n < 500; n++) counted(randomUUID());
		expect(percentOf(first)).toBeNull();
	});
});
