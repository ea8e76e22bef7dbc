import { IsNotEmpty, IsString, MaxLength } from 'class-validator';
import { describe, expect, it } from 'vitest';
import { parse } from './parse';

class Form {
	@MaxLength(5, { message: 'At most 5 characters.' })
	@IsNotEmpty({ message: 'Type a name.' })
	name = '';

	@IsString({ each: true })
	tags: string[] = [];
}

const sent = (...fields: [string, string][]) => {
	const form = new FormData();
	for (const [name, value] of fields) form.append(name, value);
	return form;
};

describe('a form that is parsed', () => {
	it('is a plain object of the fields that it has: a page can be sent it', async () => {
		const read = await parse(Form, sent(['name', ' Wren '], ['tags', 'a'], ['tags', ''], ['more', 'x']));
		if (!read.ok) throw new Error('not read');
		expect(read.data).toEqual({ name: 'Wren', tags: ['a'] });
		expect(Object.getPrototypeOf(read.data)).toBe(Object.prototype);
	});

	it('says at each field what is wrong, the first of it, with what was typed', async () => {
		expect(await parse(Form, sent(['name', '']))).toEqual({
			ok: false,
			errors: { name: ['Type a name.'] },
			values: { name: '' }
		});
		expect(await parse(Form, sent(['name', 'Wren Alder']))).toMatchObject({
			ok: false,
			errors: { name: ['At most 5 characters.'] }
		});
	});
});
