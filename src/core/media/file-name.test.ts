import { expect, test } from 'vitest';
import { cleanFileName, titleOf } from './file-name';

test.each([
	['wheel.mp4', 'wheel.mp4'],
	['../../etc/passwd', 'passwd'],
	['..\\..\\wheel.mp4', 'wheel.mp4'],
	['..', 'unnamed'],
	['', 'unnamed'],
	['a\u202Egpj.mp4', 'agpj.mp4'],
	['a\u0000b\r\n.mp4', 'ab.mp4'],
	['"quoted" \'name\'.mp4', '"quoted" \'name\'.mp4'],
	['<img src=x>.mp4', '<img src=x>.mp4'],
	['振り子.mp4', '振り子.mp4'],
	['x'.repeat(300) + '.mp4', 'x'.repeat(251) + '.mp4']
])('%j is shown as %j', (raw, clean) => {
	expect(cleanFileName(raw)).toBe(clean);
});

test.each([
	['Truing_a-wheel.final.mp4', 'Truing a wheel.final'],
	['wheel-cutting tables.pdf', 'Wheel cutting tables'],
	['zürich.pdf', 'Zürich'],
	['振り子.mp4', '振り子'],
	['.mp4', '.mp4'],
	['___.mp4', 'Untitled']
])('the first title of %j is %j', (name, title) => {
	expect(titleOf(name)).toBe(title);
});
