import { describe, expect, it, test } from 'vitest';
import { ItemForm, wishOf } from './item-form';

const wish = (over: Partial<ItemForm>) => wishOf(Object.assign(new ItemForm(), { title: 'Wheel', ...over }));

describe('what a form of an item asks for', () => {
	test.each([
		['/videos/truing a wheel', '/videos/truing-a-wheel'],
		['/videos/truing   a\twheel', '/videos/truing-a-wheel'],
		['/videos/wheel', '/videos/wheel'],
		['', '']
	])('%j is the address %j', (typed, address) => {
		expect(wish({ address: typed }).address).toBe(address);
	});

	it('begins open where it is a place to look around, and closed otherwise', () => {
		expect(
			['page', 'course', 'section', 'show', 'shelf'].map((kind) => wish({ kind: kind as never }).base)
		).toEqual(Array(5).fill('open'));
		expect(['video', 'lesson', 'file', 'link'].map((kind) => wish({ kind: kind as never }).base)).toEqual(
			Array(4).fill('closed')
		);
		expect(wish({ kind: 'course', base: 'closed' }).base).toBe('closed');
	});

	it('takes the ending of a file’s name, and the address out of a frame that was pasted', () => {
		expect(wish({ kind: 'file', fileName: 'Dial.PDF' }).extension).toBe('pdf');
		const target = '<iframe width="3" src="https://clock.example/a" allow="x"></iframe>';
		expect(wish({ kind: 'link', target }).target).toBe('https://clock.example/a');
	});
});
