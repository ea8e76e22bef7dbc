import { describe, expect, it, test } from 'vitest';
import { sequence, shifted } from './sequence';

const never = { kind: 'never' } as const;
const opens = (
	first: Parameters<typeof sequence>[0]['first'],
	step: Parameters<typeof sequence>[0]['step']
) =>
	[...sequence({ ids: ['a', 'b', 'c'], first, step, closes: never }).values()].map(({ opens: o }) =>
		o.kind === 'after' ? `${o.count} ${o.unit}` : o.kind
	);

describe('a sequence', () => {
	test.each([
		[
			'one a week from day 0',
			{ count: 0, unit: 'day' },
			{ count: 1, unit: 'week' },
			['at-once', '1 week', '2 week']
		],
		[
			'one a month from week 2',
			{ count: 2, unit: 'week' },
			{ count: 1, unit: 'month' },
			['2 week', '44 day', '74 day']
		],
		['all at once', { count: 0, unit: 'day' }, { count: 0, unit: 'day' }, ['at-once', 'at-once', 'at-once']],
		[
			'every second day from day 3',
			{ count: 3, unit: 'day' },
			{ count: 2, unit: 'day' },
			['3 day', '5 day', '7 day']
		]
	] as const)('%s', (_name, first, step, expected) => {
		expect(opens(first, step)).toEqual(expected);
	});
});

describe('a shift', () => {
	const after = (count: number, unit: 'day' | 'week') => ({
		opens: { kind: 'after' as const, count, unit },
		closes: never
	});
	it('moves by its own unit, by days where units differ, and never before at once', () => {
		expect(shifted(after(3, 'week'), { count: -1, unit: 'week' }).opens).toEqual({
			kind: 'after',
			count: 2,
			unit: 'week'
		});
		expect(shifted(after(1, 'week'), { count: 3, unit: 'day' }).opens).toEqual({
			kind: 'after',
			count: 10,
			unit: 'day'
		});
		expect(shifted(after(1, 'week'), { count: -2, unit: 'week' }).opens).toEqual({ kind: 'at-once' });
		expect(shifted({ opens: { kind: 'at-once' }, closes: never }, { count: 2, unit: 'day' }).opens).toEqual({
			kind: 'after',
			count: 2,
			unit: 'day'
		});
	});
	it('leaves dates where they are', () => {
		const dated = { opens: { kind: 'on' as const, at: 5 }, closes: never };
		expect(shifted(dated, { count: 2, unit: 'day' })).toEqual(dated);
	});
});
