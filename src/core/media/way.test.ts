import { describe, expect, it, test } from 'vitest';
import { ALLOWED, highestSpeed, maySeek, readWay, SPEEDS, USUAL_WAY } from './way';

const typed = {
	accent: '#2C6650',
	may: ['full-screen', 'captions'],
	speeds: ['2', 0.5],
	going: 'back',
	resting: 'few',
	startsMuted: true
};

describe('a way of watching', () => {
	it('is read as a form sends it: what one may and speeds in our order, the usual speed always among them', () => {
		expect(readWay(typed)).toEqual({
			accent: '#2c6650',
			may: ['captions', 'full-screen'],
			speeds: [0.5, 1, 2],
			going: 'back',
			resting: 'few',
			startsMuted: true
		});
	});

	it('has everything that may be chosen, and the usual one as it is', () => {
		expect(readWay({ ...typed, may: [...ALLOWED], speeds: [...SPEEDS] })).toMatchObject({
			may: ['captions', 'chapters', 'full-screen', 'picture-in-picture', 'quality', 'volume'],
			speeds: [0.5, 0.75, 1, 1.25, 1.5, 1.75, 2, 3]
		});
		expect(readWay(USUAL_WAY)).toEqual({
			accent: null,
			may: ['captions', 'chapters', 'full-screen', 'picture-in-picture', 'quality', 'volume'],
			speeds: [0.75, 1, 1.25, 1.5, 2],
			going: 'anywhere',
			resting: 'all',
			startsMuted: false
		});
	});

	test.each([
		[{ accent: null }, { accent: null }],
		[{ accent: '' }, { accent: null }],
		[{ going: 'sideways' }, { going: 'anywhere' }],
		[{ going: 'nowhere' }, { going: 'nowhere' }],
		[{ resting: 'yes' }, { resting: 'all' }],
		[{ resting: 'none' }, { resting: 'none' }],
		[{ startsMuted: 1 }, { startsMuted: false }],
		[{ may: 'captions' }, { may: [] }],
		[{ may: ['rewind'] }, { may: [] }],
		[{ speeds: null }, { speeds: [1] }],
		[{ speeds: [9] }, { speeds: [1] }]
	])('%j is taken as %j', (part, expected) => {
		expect(readWay({ ...typed, ...part })).toMatchObject(expected);
	});

	test.each([
		['nothing', null],
		['a text', 'way'],
		['a colour by its name', { ...typed, accent: 'red' }],
		['a colour with too much', { ...typed, accent: '#2c66500' }],
		['something before a colour', { ...typed, accent: 'x#2c6650' }],
		['a short colour', { ...typed, accent: '#fff' }],
		['no colour at all', { ...typed, accent: undefined }]
	])('%s is none', (_, value) => {
		expect(readWay(value)).toBeNull();
	});

	it('lets keys keep up with its highest speed, and with the usual one at least', () => {
		expect(highestSpeed({ speeds: [1, 1.5, 3] })).toBe(3);
		expect(highestSpeed({ speeds: [0.5] })).toBe(1);
		expect(highestSpeed({ speeds: [] })).toBe(1);
	});

	test.each([
		['anywhere', 90, 60, 0, true],
		['back', 59, 60, 0, true],
		['back', 60, 60, 0, true],
		['back', 60.1, 60, 0, false],
		['back', 61, 60, 1, true],
		['back', 61.5, 60, 1, false],
		['nowhere', 60, 60, 0, true],
		['nowhere', 59, 60, 0, false],
		['nowhere', 61, 60, 0, false],
		['nowhere', 0, 60, 0, true],
		['nowhere', 0.5, 60, 0, false],
		['nowhere', 61, 60, 1, true],
		['nowhere', 59, 60, 1, true],
		['nowhere', 58.5, 60, 1, false],
		['nowhere', 61.5, 60, 1, false],
		['nowhere', 1, 60, 1, true],
		['nowhere', 1.5, 60, 1, false]
	] as const)(
		'where one may go “%s”: to %d, having come to %d, with %d s since: %s',
		(going, to, reached, slack, expected) => {
			expect(maySeek(going, to, reached, slack)).toBe(expected);
		}
	);
});
