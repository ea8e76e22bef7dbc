import { describe, expect, it, test } from 'vitest';
import { readFence, readSelector } from './read-fence';
import { readDate, readLimits, readSiteLimits, readWindow } from './read-window';

const ID = '01a21006-2c70-7388-addc-26aebd2ef8ec';
const good = {
	name: 'Wheel',
	isOn: true,
	mode: 'replaces',
	selector: { kind: 'items', itemIds: [ID] },
	crossings: [
		{ audience: { kind: 'holders', planIds: [ID] }, window: null, limits: {}, isThroughout: false }
	],
	turnAway: null,
	listing: 'shown'
};
const problems = (over: object) => {
	const read = readFence({ ...good, ...over }, 'Europe/Vienna', 0);
	return read.ok ? {} : read.errors;
};

describe('a fence as it is sent', () => {
	it('is taken when it is whole, also with no crossing at all', () => {
		expect(problems({})).toEqual({});
		expect(problems({ crossings: [] })).toEqual({});
	});

	test.each([
		['no name', { name: ' ' }, 'name', /Give the fence a name/],
		['nothing caught', { selector: { kind: 'items', itemIds: [] } }, 'selector', /around nothing/],
		[
			'no plan',
			{ crossings: [{ ...good.crossings[0], audience: { kind: 'holders', planIds: [] } }] },
			'crossing-0',
			/at least one plan/
		],
		[
			'steps for anyone',
			{
				crossings: [
					{
						...good.crossings[0],
						audience: { kind: 'anyone' },
						window: { opens: { kind: 'after', count: 2, unit: 'week' }, closes: { kind: 'never' } }
					}
				]
			},
			'crossing-0-window',
			/choose dates/
		],
		[
			'counted openings for codes, which devices without an account have, too',
			{
				crossings: [
					{
						...good.crossings[0],
						audience: { kind: 'code', batchId: ID },
						limits: { uses: { count: 3, per: 'grant' }, minutes: 'none', hours: 'none' }
					}
				]
			},
			'crossing-0-limits',
			/counted by account/
		],
		[
			'nobody named',
			{ crossings: [{ ...good.crossings[0], audience: { kind: 'named' }, named: [{ memberId: 'wren' }] }] },
			'crossing-0',
			/at least one member/
		],
		[
			'more names than anybody reads',
			{
				crossings: [
					{
						...good.crossings[0],
						audience: { kind: 'named' },
						named: Array.from({ length: 5001 }, () => ({ memberId: ID }))
					}
				]
			},
			'crossing-0',
			/At most 5000 members/
		],
		[
			'nobody to cross in the second line',
			{ crossings: [good.crossings[0], { ...good.crossings[0], audience: { kind: 'all' } }] },
			'crossing-1',
			/who may cross/
		],
		[
			'a limit of nothing',
			{ crossings: [{ ...good.crossings[0], limits: { minutes: '0' } }] },
			'crossing-0-limits',
			/how many minutes/
		],
		[
			'a window where another’s counts',
			{
				crossings: [
					{
						...good.crossings[0],
						audience: { kind: 'may-open', resourceId: ID },
						window: { opens: { kind: 'on', local: '2026-05-01' }, closes: { kind: 'never' } }
					}
				]
			},
			'crossing-0-window',
			/none of its own/
		],
		[
			'a teaser of more than there can be',
			{ turnAway: { answer: { kind: 'absent' }, cases: {}, teaser: { kind: 'paragraphs', count: '51' } } },
			'turnAway',
			/1 to 50 paragraphs/
		],
		[
			'a teaser of no seconds',
			{ turnAway: { answer: { kind: 'absent' }, cases: {}, teaser: { kind: 'seconds', count: 0 } } },
			'turnAway',
			/1 to 3600 seconds/
		],
		[
			'no way of turning away',
			{ turnAway: { answer: {}, cases: {}, teaser: {} } },
			'turnAway',
			/everybody else/
		],
		['a name that is too long', { name: 'x'.repeat(121) }, 'name', /at most 120/],
		['no mode', { mode: 'opens' }, 'mode', /what the fence does/],
		[
			'an empty notice',
			{ turnAway: { answer: { kind: 'notice', text: [] }, cases: {}, teaser: {} } },
			'turnAway',
			/Write the notice/
		],
		[
			'a script in a link',
			{
				turnAway: {
					answer: {
						kind: 'notice',
						text: [{ type: 'paragraph', content: [{ type: 'text', text: 'x', href: 'javascript:alert(1)' }] }]
					},
					cases: {},
					teaser: {}
				}
			},
			'turnAway',
			/no web or mail address/
		],
		[
			'a case without a path',
			{
				turnAway: { answer: { kind: 'absent' }, cases: { lapsed: { kind: 'sent', to: 'plans' } }, teaser: {} }
			},
			'turnAway-lapsed',
			/begins with a slash/
		]
	])('is refused with %s', (_name, over, field, message) => {
		expect(problems(over)[field]?.[0]).toMatch(message);
	});
});

describe('several things that are wrong', () => {
	it('are each told at their place, one sentence for each', () => {
		const wrong = {
			name: '',
			mode: '',
			selector: { kind: 'category', categoryId: 'x' },
			crossings: [
				{
					audience: {},
					window: { opens: { kind: 'on', local: 'soon' }, closes: {} },
					limits: { uses: { count: 'x' } }
				},
				good.crossings[0]
			],
			turnAway: { answer: { kind: 'sent', to: '' }, cases: { stranger: { kind: 'notice' } }, teaser: {} }
		};
		const found = problems(wrong);
		expect(Object.keys(found).sort()).toEqual([
			'crossing-0',
			'crossing-0-limits',
			'crossing-0-window',
			'mode',
			'name',
			'selector',
			'turnAway',
			'turnAway-stranger'
		]);
		expect(Object.values(found).every(({ length }) => length === 1)).toBe(true);
		expect(found['crossing-0-window']?.[0]).toMatch(/no date of the calendar/);
	});
});

describe('a fence that is whole', () => {
	it('is what was meant, with whoever is named as of the day or as of now', () => {
		const line = {
			...good.crossings[0],
			audience: { kind: 'named' },
			named: [{ memberId: ID, since: 5 }, { memberId: ID }]
		};
		const window = {
			opens: { kind: 'on', local: '2026-03-29T02:30' },
			closes: { kind: 'after', count: '2', unit: 'week' }
		};
		const limits = { uses: 'site', minutes: '15', hours: 'none' };
		const read = readFence(
			{
				...good,
				name: ' Wheel ',
				crossings: [{ ...line, window, limits, isThroughout: true }],
				turnAway: {
					answer: { kind: 'sent', to: '/plans/?from=here' },
					cases: { lapsed: { kind: 'absent' } },
					teaser: { kind: 'seconds', count: '30' }
				}
			},
			'Europe/Vienna',
			9
		);
		expect(read).toEqual({
			ok: true,
			notes: [expect.stringContaining('is skipped')],
			wish: {
				name: 'Wheel',
				isOn: true,
				mode: 'replaces',
				selector: { kind: 'items', itemIds: [ID] },
				listing: 'shown',
				crossings: [
					{
						audience: { kind: 'named' },
						named: [
							{ memberId: ID, since: 5 },
							{ memberId: ID, since: 9 }
						],
						window: {
							opens: { kind: 'on', at: Date.parse('2026-03-29T01:30Z') },
							closes: { kind: 'after', count: 2, unit: 'week' }
						},
						limits: { uses: 'site', minutes: 15, hours: 'none' },
						isThroughout: true
					}
				],
				turnAway: {
					answer: { kind: 'sent', to: '/plans?from=here' },
					cases: { lapsed: { kind: 'absent' } },
					teaser: { kind: 'seconds', count: 30 }
				}
			}
		});
	});
});

describe('selectors', () => {
	test.each([
		['https://clock.example/courses', /Leave the host away/],
		['clock.example/courses', /Leave the host away/],
		['courses/clock', /begins with a slash/]
	])('refuses the path %s', (path, message) => {
		const read = readSelector({ kind: 'path', path });
		expect(read.ok ? '' : read.message).toMatch(message);
	});
	it('brings a path to its one spelling', () => {
		expect(readSelector({ kind: 'below', path: '/courses//clock/' })).toMatchObject({
			value: { path: '/courses/clock' }
		});
	});
	it('asks what is meant by a slash alone', () => {
		const read = readSelector({ kind: 'containing', text: '/' });
		expect(read.ok ? '' : read.message).toMatch(/home page, or “everything”/);
	});
	test.each([
		['(?=x)', /take forever/],
		['x'.repeat(10_000), /10000 characters/],
		['(', /is never closed/]
	])('refuses the pattern %j', (pattern, message) => {
		const read = readSelector({ kind: 'pattern', pattern });
		expect(read.ok ? '' : read.message).toMatch(message);
	});
});

describe('windows and limits', () => {
	const window = (opens: object, closes: object = { kind: 'never' }) =>
		readWindow({ opens, closes }, 'Europe/Vienna');
	test.each([
		[
			'closes before it opens',
			{ kind: 'on', local: '2026-05-02' },
			{ kind: 'on', local: '2026-05-01' },
			/before it opens/
		],
		['31 February', { kind: 'on', local: '2026-02-31' }, undefined, /no date of the calendar/],
		['n of 0 for a closing', { kind: 'at-once' }, { kind: 'after', count: '0', unit: 'day' }, /at least 1/],
		['a negative n', { kind: 'after', count: '-1', unit: 'day' }, undefined, /0 or more/],
		['n of 10^9', { kind: 'after', count: '1000000000', unit: 'day' }, undefined, /At most/],
		['a fraction', { kind: 'after', count: '1.5', unit: 'day' }, undefined, /whole number/]
	])('refuses %s', (_name, opens, closes, message) => {
		const read = window(opens, closes);
		expect(read.ok ? '' : read.message).toMatch(message);
	});
	it('takes “at once, never” for no window, so that releases count', () => {
		expect(window({ kind: 'at-once' })).toEqual({ ok: true, value: null, notes: [] });
	});
	it('says which moment is taken where the clocks change', () => {
		expect(readDate('2026-03-29T02:30', 'Europe/Vienna')).toMatchObject({
			ok: true,
			notes: [expect.stringContaining('is skipped')]
		});
		expect(readDate('2026-10-25T02:30', 'Europe/Vienna')).toMatchObject({
			ok: true,
			notes: [expect.stringContaining('comes twice')]
		});
	});
	it('reads each limit as the site’s, none or its own', () => {
		expect(readLimits({ uses: { count: '3', per: 'grant' }, minutes: 'site', hours: '48' })).toMatchObject({
			value: { uses: { count: 3, per: 'grant' }, minutes: 'site', hours: 48 }
		});
		expect(readLimits({ uses: { count: 0, per: 'grant' } })).toMatchObject({ ok: false });
		expect(readLimits({})).toMatchObject({ value: { uses: 'none', minutes: 'none', hours: 'none' } });
	});
	it('has no site’s limit behind the site’s own', () => {
		expect(readSiteLimits({ uses: 'none', minutes: '5' })).toMatchObject({
			value: { uses: 'none', minutes: 5, hours: 'none' }
		});
		expect(readSiteLimits({ uses: 'site' })).toMatchObject({ ok: false });
		expect(readSiteLimits({ minutes: 'site' })).toMatchObject({ ok: false });
	});
});
