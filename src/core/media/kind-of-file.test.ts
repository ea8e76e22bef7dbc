import { expect, test } from 'vitest';
import { extensionOf, kindOfFile, type SeenContent } from './kind-of-file';

const nothing: SeenContent = { detected: null, isText: false, media: null, bytes: 10 };
const text: SeenContent = { ...nothing, isText: true };
const as = (extension: string, mediaType: string): SeenContent => ({
	...nothing,
	detected: { extension, mediaType }
});
const film: SeenContent = { ...as('mp4', 'video/mp4'), media: { hasPicture: true, hasSound: true } };
const sound: SeenContent = { ...as('mp3', 'audio/mpeg'), media: { hasPicture: false, hasSound: true } };

test.each<[string, SeenContent, object]>([
	['wheel.mp4', film, { ok: true, kind: 'video', mediaType: 'video/mp4', extension: 'mp4' }],
	['wheel', film, { ok: true, kind: 'video', extension: null }],
	['wheel.dat', film, { ok: true, kind: 'video' }],
	['tick.mp3', sound, { ok: true, kind: 'audio', mediaType: 'audio/mpeg' }],
	['tick.mp4', sound, { ok: true, kind: 'audio' }],
	['dial.pdf', as('pdf', 'application/pdf'), { ok: true, kind: 'file', mediaType: 'application/pdf' }],
	['dial.PDF', as('pdf', 'application/pdf'), { ok: true, extension: 'pdf' }],
	['photo.jpeg', as('jpg', 'image/jpeg'), { ok: true, mediaType: 'image/jpeg' }],
	['table.csv', text, { ok: true, mediaType: 'text/csv' }],
	['page.html', text, { ok: true, kind: 'file', mediaType: 'text/html' }],
	['drawing.svg', text, { ok: true, kind: 'file', mediaType: 'image/svg+xml' }],
	['README', text, { ok: true, mediaType: 'text/plain', extension: null }],
	['firmware.bin', nothing, { ok: true, mediaType: 'application/octet-stream' }],
	['wheel.mp4', { ...text, bytes: 0 }, { ok: false, code: 'empty' }],
	['notes.mp4', text, { ok: false, code: 'not-what-it-says', says: 'mp4', is: 'text' }],
	['notes.mp3', as('pdf', 'application/pdf'), { ok: false, code: 'not-what-it-says', is: 'pdf' }],
	['cut.mp4', as('mp4', 'video/mp4'), { ok: false, code: 'broken-media' }],
	['notes.pdf', text, { ok: false, code: 'not-what-it-says', says: 'pdf' }],
	['notes.pdf', nothing, { ok: false, code: 'not-what-it-says' }],
	['film.pdf', film, { ok: false, code: 'not-what-it-says', is: 'video' }],
	['tables.zip', as('png', 'image/png'), { ok: false, code: 'not-what-it-says', is: 'png' }]
])('%s is told by its content', (name, seen, expected) => {
	expect(kindOfFile(name, seen)).toMatchObject(expected);
});

test.each([
	['wheel.MP4', 'mp4'],
	['a.tar.gz', 'gz'],
	['../x.pdf', 'pdf'],
	['.hidden', 'hidden'],
	['no ending', null],
	['dot.', null],
	['x.振り', null]
])('the ending of %s is %s', (name, extension) => {
	expect(extensionOf(name)).toBe(extension);
});
