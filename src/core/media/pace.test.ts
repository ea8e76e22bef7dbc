import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BURST_GROUPS, fullBucket, GROUP_MS, LONGEST_WAIT_MS, paceKey } from './pace';
import { runs } from '../../../tests/support/runs';

/** Asks for groups one after the other, as fast as it is answered; gives when each was had. */
function greedy(groups: number, speed: number): number[] {
	let bucket = fullBucket(0);
	let now = 0;
	const had: number[] = [];
	for (let group = 0; group < groups;) {
		const pace = paceKey(bucket, group, speed, now);
		if (pace.kind === 'refuse') {
			now += pace.retryAfterMs;
			continue;
		}
		bucket = pace.bucket;
		now += pace.afterMs;
		had.push(now);
		group++;
	}
	return had;
}

describe('keys', () => {
	it('come at once up to the burst, then no faster than the highest speed plays', () => {
		const had = greedy(20, 2);
		expect(had.slice(0, BURST_GROUPS)).toEqual(Array.from({ length: BURST_GROUPS }, () => 0));
		expect(had[BURST_GROUPS]).toBe(GROUP_MS / 2);
		expect(had[19]).toBe((20 - BURST_GROUPS) * (GROUP_MS / 2));
	});

	it('lose nothing and gain nothing by a clock that goes back', () => {
		const spent = { level: 0, at: 10_000, given: [] };
		const back = paceKey(spent, 1, 1, 4000);
		expect(back).toMatchObject({ kind: 'give', afterMs: GROUP_MS, bucket: { level: -1, at: 4000 } });
		expect(paceKey({ ...spent, given: [1] }, 1, 1, 4000)).toMatchObject({ bucket: { level: 0, at: 4000 } });
	});

	it('never hold back whoever plays at the highest speed', () => {
		let bucket = fullBucket(0);
		for (let group = 0; group < 200; group++) {
			const pace = paceKey(bucket, group, 2, (group * GROUP_MS) / 2);
			expect(pace).toMatchObject({ kind: 'give', afterMs: 0 });
			if (pace.kind === 'give') bucket = pace.bucket;
		}
	});

	it('of a group that was given cost nothing', () => {
		let bucket = fullBucket(0);
		for (let n = 0; n < 100; n++) {
			const pace = paceKey(bucket, 3, 1, 0);
			expect(pace).toMatchObject({ kind: 'give', afterMs: 0 });
			if (pace.kind === 'give') bucket = pace.bucket;
		}
		expect(bucket.level).toBe(BURST_GROUPS - 1);
	});

	it('are refused to many who ask side by side, rather than held back for ever', () => {
		let bucket = fullBucket(0);
		const answers = Array.from({ length: 40 }, (_, group) => {
			const pace = paceKey(bucket, group, 1, 0);
			if (pace.kind === 'give') bucket = pace.bucket;
			return pace;
		});
		const given = answers.filter((pace) => pace.kind === 'give');
		expect(given.length).toBe(BURST_GROUPS + Math.floor(LONGEST_WAIT_MS / GROUP_MS));
		expect(answers.at(-1)).toMatchObject({ kind: 'refuse' });
	});

	it('given in any span of time are at most the burst and what plays in it', () => {
		const steps = fc.array(fc.tuple(fc.nat(30), fc.integer({ min: 0, max: 20_000 })), { maxLength: 80 });
		fc.assert(
			fc.property(steps, fc.constantFrom(1, 1.5, 2, 3), (asks, speed) => {
				let bucket = fullBucket(0);
				let now = 0;
				let latest = 0;
				const given = new Set<number>();
				for (const [group, passed] of asks) {
					now += passed;
					const pace = paceKey(bucket, group, speed, now);
					if (pace.kind !== 'give') continue;
					bucket = pace.bucket;
					given.add(group);
					latest = Math.max(latest, now + pace.afterMs);
				}
				expect(given.size).toBeLessThanOrEqual(BURST_GROUPS + latest / (GROUP_MS / speed) + 1e-9);
			}),
			{ seed: 10, numRuns: runs(300) }
		);
	});
});
