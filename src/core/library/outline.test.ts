import { expect, it } from 'vitest';
import { inOrder, outline } from './outline';

const entries = [
	{ id: '3', homeId: 'b', position: 0 },
	{ id: '2', homeId: 'a', position: 1 },
	{ id: 'b', homeId: 'course', position: 1 },
	{ id: '1', homeId: 'a', position: 0 },
	{ id: 'a', homeId: 'course', position: 0 },
	{ id: 'elsewhere', homeId: null, position: 0 }
];

it('follows positions through sections', () => {
	expect(inOrder(outline(entries, 'course')).map(({ id }) => id)).toEqual(['a', '1', '2', 'b', '3']);
});

it('gives nothing for what is empty, and ends in a circle', () => {
	expect(outline(entries, 'nowhere')).toEqual([]);
	const circle = [
		{ id: 'x', homeId: 'y', position: 0 },
		{ id: 'y', homeId: 'x', position: 0 }
	];
	expect(inOrder(outline(circle, 'x')).length).toBeLessThan(100);
});
