import { describe, expect, it, test } from 'vitest';
import {
	after,
	crossing,
	DAY,
	fence,
	grant,
	holders,
	HOUR,
	items,
	member,
	plan,
	release,
	resource,
	source,
	staff,
	stranger,
	within
} from '../../../../tests/support/access';
import { decide, decideAddress, explain } from './decide';
import {
	NO_CONTEXT,
	NO_LIMITS,
	type Context,
	type Fence,
	type Grant,
	type PolicySource,
	type Resource,
	type Viewer
} from '../model';
import { compile } from '../policy';

const NOW = Date.parse('2026-03-01T12:00Z');
const wheel = resource('wheel');
const workshop = crossing(holders('workshop'));
const plans = [plan('workshop'), plan('quiet', { isPublic: false }), plan('old', { isOnSale: false })];

function policyOf(fences: Fence[], over: Partial<PolicySource> = {}) {
	return compile(source({ resources: [wheel], fences, plans, ...over }));
}

function verdict(fences: Fence[], viewer: Viewer, over: Partial<PolicySource> = {}, now = NOW) {
	return decide(policyOf(fences, over), viewer, 'wheel', now).verdict;
}

describe('a fence with a crossing for a plan', () => {
	const fences = [fence('f', items('wheel'), [workshop])];
	const paid = (over = {}) => member([grant({ from: NOW - HOUR, until: NOW + HOUR, ...over })]);

	test.each([
		['the instant before the grant begins', NOW - HOUR - 1, 'opens-later'],
		['at the exact start', NOW - HOUR, 'open'],
		['the instant before the end', NOW + HOUR - 1, 'open'],
		['at the exact end', NOW + HOUR, 'shut']
	])('%s', (_name, at, expected) => {
		expect(decide(policyOf(fences), paid(), 'wheel', at).verdict).toBe(expected);
	});

	it('is shut for strangers and open for staff', () => {
		expect(verdict(fences, stranger)).toBe('shut');
		expect(verdict(fences, staff)).toBe('open');
	});

	it('says until when', () => {
		expect(decide(policyOf(fences), paid(), 'wheel', NOW)).toMatchObject({
			verdict: 'open',
			until: NOW + HOUR
		});
		expect(decide(policyOf(fences), paid(), 'wheel', NOW - 2 * HOUR)).toMatchObject({
			until: NOW - HOUR,
			opensAt: NOW - HOUR,
			standing: 'too-early'
		});
	});

	it('tells the lapsed from those who never had the plan', () => {
		const all = [fence('f', items('wheel'), [crossing(holders('workshop', 'quiet', 'old'))])];
		const lapsed = member([grant({ until: NOW - 1 })]);
		expect(decide(policyOf(all), lapsed, 'wheel', NOW)).toMatchObject({
			standing: 'lapsed'
		});
		expect(decide(policyOf(all), member(), 'wheel', NOW)).toMatchObject({ standing: 'without-plan' });
	});

	it('ends a revoked grant at the moment of revoking, whatever its end', () => {
		const revoked = paid({ until: null, revokedAt: NOW });
		expect(decide(policyOf(fences), revoked, 'wheel', NOW - 1).verdict).toBe('open');
		expect(decide(policyOf(fences), revoked, 'wheel', NOW).verdict).toBe('shut');
	});

	it('knows nothing of what is not there', () => {
		expect(decide(policyOf(fences), staff, 'nothing', NOW)).toMatchObject({
			verdict: 'shut',
			answer: { kind: 'absent' },
			isListed: false
		});
	});
});

describe('gates', () => {
	const open = [fence('f', items('wheel'), [crossing({ kind: 'anyone' })])];
	const at = (over: Partial<Resource>, now: number) =>
		decide(policyOf(open, { resources: [{ ...wheel, ...over }] }), stranger, 'wheel', now);

	test.each([
		['draft', { state: 'draft' }, NOW, 'shut'],
		['archived', { state: 'archived' }, NOW, 'shut'],
		['scheduled, the instant before', { state: 'scheduled', publishAt: NOW }, NOW - 1, 'shut'],
		['scheduled, at the moment', { state: 'scheduled', publishAt: NOW }, NOW, 'open'],
		['scheduled without a date', { state: 'scheduled' }, NOW, 'shut']
	] as const)('%s', (_name, over, now, expected) => {
		expect(at(over, now).verdict).toBe(expected);
	});

	it('answers as if it were not there', () => {
		expect(at({ state: 'draft' }, NOW)).toMatchObject({ answer: { kind: 'absent' }, isListed: false });
	});
});

describe('the walk', () => {
	const lesson = resource('lesson', {
		kind: 'lesson',
		homeId: 'section',
		categoryId: 'strip',
		tagIds: ['oil', 'rust']
	});
	const resources = [
		wheel,
		lesson,
		resource('section', { kind: 'section', homeId: 'course', address: null }),
		resource('course', { kind: 'course', base: 'open', address: '/courses/clock' }),
		resource('table', { kind: 'file', homeId: 'inner', extension: 'pdf' }),
		resource('inner', { kind: 'shelf', homeId: 'outer', address: '/tables/inner' }),
		resource('outer', { kind: 'shelf', address: '/tables' })
	];
	const many = ['a', 'b', 'c'].map((id) => plan(id));
	const holderOf = (planId: string) => member([grant({ planId })]);
	const opensFor = (fences: Fence[], id: string, planIds = ['a', 'b', 'c']) =>
		planIds.filter(
			(planId) =>
				decide(compile(source({ resources, fences, plans: many })), holderOf(planId), id, NOW).verdict ===
				'open'
		);
	const f = (id: string, selector: Parameters<typeof fence>[1], planId: string, over: Partial<Fence> = {}) =>
		fence(id, selector, [crossing(holders(planId))], over);

	test.each([
		['the item before its section', items('lesson'), within('section'), 'lesson'],
		[
			'an exact path of an item counts as the item',
			{ kind: 'path', path: '/lesson' },
			within('section'),
			'lesson'
		],
		['the section before the course', within('section'), within('course'), 'lesson'],
		['the course before the category', within('course'), { kind: 'category', categoryId: 'strip' }, 'lesson'],
		[
			'a category counts for more than a tag',
			{ kind: 'category', categoryId: 'strip' },
			{ kind: 'tag', tagId: 'oil' },
			'lesson'
		],
		['a tag before a path below', { kind: 'tag', tagId: 'rust' }, { kind: 'below', path: '/' }, 'lesson'],
		[
			'a longer path below before a shorter',
			{ kind: 'below', path: '/tables' },
			{ kind: 'below', path: '/' },
			'inner'
		],
		[
			'a path below before a pattern',
			{ kind: 'below', path: '/' },
			{ kind: 'pattern', pattern: '^/less' },
			'lesson'
		],
		[
			'a pattern before a text',
			{ kind: 'pattern', pattern: 'less' },
			{ kind: 'containing', text: 'less' },
			'lesson'
		],
		[
			'a text before the kind',
			{ kind: 'containing', text: 'le' },
			{ kind: 'kind', itemKind: 'lesson' },
			'lesson'
		],
		['the kind before everything', { kind: 'kind', itemKind: 'lesson' }, { kind: 'everything' }, 'lesson'],
		[
			'the shelf with its endings before that shelf',
			within('inner', { extensions: ['pdf'] }),
			within('inner'),
			'table'
		],
		['that shelf before the outer one', within('inner'), within('outer', { extensions: ['pdf'] }), 'table']
	] as [string, Parameters<typeof fence>[1], Parameters<typeof fence>[1], string][])(
		'%s',
		(_name, narrow, wide, id) => {
			// The wider one is older, so that the order of making does not decide.
			const fences = [f('wide', wide, 'b', { createdAt: 0 }), f('narrow', narrow, 'a', { createdAt: 1 })];
			expect(opensFor(fences, id)).toEqual(['a']);
		}
	);

	it('catches a collection’s own page only when it is meant', () => {
		expect(opensFor([f('x', within('course'), 'a')], 'course')).toEqual(['a']);
		expect(opensFor([f('x', within('course', { withPage: false }), 'a')], 'course')).toEqual(['a', 'b', 'c']);
		expect(opensFor([f('x', within('inner', { extensions: ['doc'] }), 'a')], 'table')).toEqual([]);
	});

	it('lets a fence that adds bring people and take nobody', () => {
		const course = f('course', within('course'), 'a');
		expect(opensFor([course, f('more', items('lesson'), 'b', { mode: 'adds' })], 'lesson')).toEqual([
			'a',
			'b'
		]);
		expect(opensFor([course, f('narrow', items('lesson'), 'b')], 'lesson')).toEqual(['b']);
	});

	it('joins equals', () => {
		const fences = [
			f('one', { kind: 'tag', tagId: 'oil' }, 'a'),
			f('two', { kind: 'tag', tagId: 'rust' }, 'b')
		];
		expect(opensFor(fences, 'lesson')).toEqual(['a', 'b']);
	});

	it('writes down what was passed over, and why', () => {
		const fences = [
			f('off', items('lesson'), 'a', { isOn: false }),
			f('item', items('lesson'), 'a'),
			fence('empty', within('course'), [])
		];
		const { steps } = explain(compile(source({ resources, fences, plans: many })), stranger, 'lesson', NOW);
		expect(steps).toEqual([
			{ code: 'fence-off', fenceId: 'off' },
			{ code: 'fence-replaces', fenceId: 'item' },
			{ code: 'no-grant', fenceId: 'item', planIds: ['a'] },
			{ code: 'fence-beyond', fenceId: 'empty', endedBy: 'item', isSealed: false }
		]);
	});

	it('closes addresses that no item has, but leaves them open when no fence speaks', () => {
		const policy = (fences: Fence[]) => compile(source({ resources, fences, plans: many }));
		expect(decideAddress(policy([]), stranger, '/', NOW).verdict).toBe('open');
		expect(
			decideAddress(policy([f('home', { kind: 'path', path: '/' }, 'a')]), stranger, '/', NOW).verdict
		).toBe('shut');
		expect(
			decideAddress(policy([f('home', { kind: 'path', path: '/' }, 'a')]), stranger, '/categories/strip', NOW)
				.verdict
		).toBe('open');
		expect(
			decideAddress(policy([f('all', { kind: 'everything' }, 'a')]), stranger, '/categories/strip', NOW)
				.verdict
		).toBe('shut');
	});
});

describe('audiences', () => {
	const only = (audience: Parameters<typeof crossing>[0], over = {}) => [
		fence('f', items('wheel'), [crossing(audience, over)])
	];

	it('takes anyone, whoever is signed in, and whoever is named', () => {
		expect(verdict(only({ kind: 'anyone' }), stranger)).toBe('open');
		expect(verdict(only({ kind: 'signed-in' }), stranger)).toBe('shut');
		expect(verdict(only({ kind: 'signed-in' }), member())).toBe('open');
		const named = only({ kind: 'named' }, { id: 'line' });
		const namedAt = (crossingId: string) => member([], { namings: [{ crossingId, since: NOW - DAY }] });
		expect(verdict(named, namedAt('line'))).toBe('open');
		expect(verdict(named, namedAt('another line'))).toBe('shut');
		expect(verdict(named, member())).toBe('shut');
		expect(verdict(named, stranger)).toBe('shut');
	});

	it('asks whoever has redeemed a code to sign in where openings are counted: a device can forget that it had any', () => {
		const limits = { ...NO_LIMITS, uses: { count: 3, per: 'grant' as const } };
		const coded = only({ kind: 'code', batchId: 'fair' }, { limits });
		const redemptions = [{ batchId: 'fair', at: NOW - HOUR }];
		expect(verdict(coded, { kind: 'stranger', redemptions, grants: [] })).toBe('shut');
		expect(verdict(coded, member([], { redemptions }))).toBe('open');
		const hours = only({ kind: 'code', batchId: 'fair' }, { limits: { ...NO_LIMITS, hours: 5 } });
		expect(verdict(hours, { kind: 'stranger', redemptions, grants: [] })).toBe('open');
	});

	it('takes whoever has redeemed a code, signed in or not', () => {
		const coded = only({ kind: 'code', batchId: 'fair' });
		const redemptions = [{ batchId: 'fair', at: NOW - 1 }];
		expect(verdict(coded, stranger)).toBe('shut');
		expect(verdict(coded, { kind: 'stranger', redemptions, grants: [] })).toBe('open');
		expect(verdict(coded, member([], { redemptions }))).toBe('open');
	});

	it('lets a device hold the plan that a code gave it, until that ends, and takes it for nobody who is signed in', () => {
		const given = (over: Partial<Grant> = {}): Viewer => ({
			kind: 'stranger',
			redemptions: [{ batchId: 'fair', at: NOW - DAY }],
			grants: [grant({ id: 'redeemed', from: NOW - DAY, until: NOW + DAY, source: 'code', ...over })]
		});
		const held = only(holders('workshop'));
		const made = policyOf(held);
		expect(decide(made, given(), 'wheel', NOW)).toMatchObject({
			verdict: 'open',
			until: NOW + DAY,
			allowedBy: { grantId: 'redeemed' }
		});
		expect(decide(made, given(), 'wheel', NOW + DAY)).toMatchObject({ verdict: 'shut', standing: 'lapsed' });
		expect(verdict(held, given({ planId: 'patron' }))).toBe('shut');
		expect(verdict(only({ kind: 'signed-in' }), given())).toBe('shut');
		const later = only(holders('workshop'), { window: after(1, 'day') });
		expect(verdict(later, given(), {}, NOW - 1)).toBe('opens-later');
		expect(verdict(later, given())).toBe('open');
	});

	it('asks a device that holds a plan by a code to sign in where openings are counted', () => {
		const device: Viewer = {
			kind: 'stranger',
			redemptions: [{ batchId: 'fair', at: NOW - DAY }],
			grants: [grant({ from: NOW - DAY, source: 'code' })]
		};
		const limits = { ...NO_LIMITS, uses: { count: 3, per: 'grant' as const } };
		const counted = only(holders('workshop'), { limits });
		expect(verdict(counted, device)).toBe('shut');
		expect(explain(policyOf(counted), device, 'wheel', NOW).steps).toContainEqual(
			expect.objectContaining({ code: 'not-signed-in' })
		);
		expect(verdict(only(holders('workshop'), { limits: { ...NO_LIMITS, hours: 30 } }), device)).toBe('open');
	});

	it('counts windows on the clock of the audience', () => {
		const window = after(2, 'day');
		const named = only({ kind: 'named' }, { id: 'line', window });
		const wren = member([], { namings: [{ crossingId: 'line', since: NOW - 2 * DAY }] });
		expect(verdict(named, wren, {}, NOW - 1)).toBe('opens-later');
		expect(verdict(named, wren, {}, NOW)).toBe('open');
		expect(verdict(only({ kind: 'signed-in' }, { window }), member([], { since: NOW - DAY }))).toBe(
			'opens-later'
		);
		expect(
			verdict(
				only({ kind: 'code', batchId: 'x' }, { window }),
				member([], { redemptions: [{ batchId: 'x', at: NOW - 3 * DAY }] })
			)
		).toBe('open');
		const dates = { opens: { kind: 'on', at: NOW }, closes: { kind: 'on', at: NOW + HOUR } } as const;
		expect(verdict(only({ kind: 'anyone' }, { window: dates }), stranger, {}, NOW - 1)).toBe('opens-later');
		expect(verdict(only({ kind: 'anyone' }, { window: dates }), stranger, {}, NOW)).toBe('open');
		expect(verdict(only({ kind: 'anyone' }, { window: dates }), stranger, {}, NOW + HOUR)).toBe('over');
		// A step without a clock never opens.
		expect(verdict(only({ kind: 'anyone' }, { window }), stranger)).toBe('shut');
	});

	it('follows the rules of something else, and opens nothing in a circle', () => {
		const pages = [wheel, resource('course', { kind: 'course' })];
		const follows = (id: string, other: string) =>
			fence(`f-${id}`, items(id), [crossing({ kind: 'may-open', resourceId: other })]);
		const policy = compile(
			source({
				resources: pages,
				plans,
				fences: [follows('wheel', 'course'), fence('c', items('course'), [workshop])]
			})
		);
		const paid = member([grant({ until: NOW + HOUR })]);
		expect(decide(policy, paid, 'wheel', NOW)).toMatchObject({ verdict: 'open', until: NOW + HOUR });
		expect(decide(policy, member(), 'wheel', NOW).verdict).toBe('shut');
		const circle = compile(
			source({ resources: pages, plans, fences: [follows('wheel', 'course'), follows('course', 'wheel')] })
		);
		expect(decide(circle, paid, 'wheel', NOW).verdict).toBe('shut');
	});
});

describe('releases and windows', () => {
	const lesson = resource('wheel', { kind: 'lesson', homeId: 'section', categoryId: 'strip' });
	const resources = [
		lesson,
		resource('section', { kind: 'section', homeId: 'course', address: null }),
		resource('course', { kind: 'course' })
	];
	const joined = Date.parse('2026-01-01T09:00Z');
	const wren = member([grant({ from: joined })]);
	const opening = (fences: Fence[], releases: PolicySource['releases']) => {
		const decision = decide(compile(source({ resources, fences, plans, releases })), wren, 'wheel', joined);
		return decision.verdict === 'open' ? 'at once' : ((decision.opensAt ?? 0) - joined) / DAY;
	};
	const course = (over = {}) => fence('course', within('course'), [crossing(holders('workshop'), over)]);

	it('lets the nearest win, and at one rank the release', () => {
		expect(opening([course()], [])).toBe('at once');
		expect(opening([course({ window: after(1, 'day') })], [])).toBe(1);
		expect(
			opening([course({ window: after(1, 'day') })], [release('workshop', 'course', after(2, 'day'))])
		).toBe(2);
		expect(
			opening(
				[course()],
				[release('workshop', 'course', after(2, 'day')), release('workshop', 'section', after(3, 'day'))]
			)
		).toBe(3);
		expect(opening([course()], [release('workshop', 'strip', after(4, 'day'), 'category')])).toBe(4);
		const own = fence('own', items('wheel'), [crossing(holders('workshop'), { window: after(5, 'day') })]);
		expect(opening([course(), own], [release('workshop', 'section', after(3, 'day'))])).toBe(5);
		expect(opening([course(), own], [release('workshop', 'wheel', after(6, 'day'))])).toBe(6);
		expect(opening([course()], [release('quiet', 'wheel', after(6, 'day'))])).toBe('at once');
	});

	// Common practice, no source: "opens in week three, for one month", joined on 1 January.
	test.each([
		['2026-01-22T08:59:59.999Z', 'opens-later'],
		['2026-01-22T09:00Z', 'open'],
		['2026-02-22T08:59:59.999Z', 'open'],
		['2026-02-22T09:00Z', 'over']
	])('week three for one month, at %s: %s', (at, expected) => {
		const window = after(3, 'week', { kind: 'after', count: 1, unit: 'month' });
		const policy = compile(
			source({ resources, fences: [course()], plans, releases: [release('workshop', 'wheel', window)] })
		);
		expect(decide(policy, wren, 'wheel', Date.parse(at)).verdict).toBe(expected);
	});

	it('tells those whose grant renews that it opens later, and the others that it does not', () => {
		const policy = compile(
			source({
				resources,
				fences: [course()],
				plans,
				releases: [release('workshop', 'wheel', after(6, 'week'))]
			})
		);
		const month = { from: joined, until: joined + 31 * DAY };
		expect(decide(policy, member([grant({ ...month, renews: true })]), 'wheel', joined)).toMatchObject({
			verdict: 'opens-later',
			opensAt: joined + 42 * DAY
		});
		expect(decide(policy, member([grant(month)]), 'wheel', joined)).toMatchObject({
			verdict: 'shut',
			standing: 'without-plan',
			isHeldInVain: true
		});
		expect(decide(policy, member([]), 'wheel', joined)).toMatchObject({ isHeldInVain: false });
	});

	it('unites two ways in', () => {
		const two = [
			course({ window: after(1, 'day', { kind: 'after', count: 1, unit: 'day' }) }),
			fence('more', within('course'), [crossing(holders('quiet'), { window: after(5, 'day') })], {
				mode: 'adds'
			})
		];
		const policy = compile(source({ resources, fences: two, plans }));
		const both = member([grant({ from: joined }), grant({ id: 'g2', planId: 'quiet', from: joined })]);
		expect([0, 1, 2, 5].map((day) => decide(policy, both, 'wheel', joined + day * DAY).verdict)).toEqual([
			'opens-later',
			'open',
			'opens-later',
			'open'
		]);
	});
});

describe('of several reasons against', () => {
	const window = { opens: { kind: 'on', at: NOW + DAY }, closes: { kind: 'never' } } as const;
	const past = { opens: { kind: 'at-once' }, closes: { kind: 'on', at: NOW - DAY } } as const;
	const once = { ...NO_LIMITS, uses: { count: 1, per: 'grant' as const } };
	const usedUp = crossing(holders('workshop'), { limits: once });
	const later = crossing(holders('quiet'), { window });
	const over = crossing(holders('old'), { window: past });
	const viewer = member([
		grant(),
		grant({ id: 'q', planId: 'quiet' }),
		grant({ id: 'o', planId: 'old' }),
		grant({ id: 'l', planId: 'lost', until: NOW - 1 })
	]);
	const context = { ...NO_CONTEXT, uses: [{ grantId: 'grant', at: 1, goesOnUntil: 1 }] };
	const lost = crossing(holders('lost'));
	const said = (...crossings: ReturnType<typeof crossing>[]) => {
		const policy = policyOf([fence('f', items('wheel'), crossings)], { plans: [...plans, plan('lost')] });
		const decision = decide(policy, viewer, 'wheel', NOW, context);
		return `${decision.verdict} ${decision.verdict === 'open' ? '' : decision.standing}`;
	};

	test.each([
		['used up before all others', [lost, over, later, usedUp], 'used-up used-up'],
		['opens later before over', [lost, over, later], 'opens-later too-early'],
		['over before shut', [lost, over], 'over over'],
		['shut, for whoever held it', [lost], 'shut lapsed']
	] as const)('says %s, in whichever order they are met', (_name, crossings, expected) => {
		expect(said(...crossings)).toBe(expected);
		expect(said(...[...crossings].reverse())).toBe(expected);
	});
});

describe('a path below', () => {
	it('catches what lies below it, and not the page itself or what begins alike', () => {
		const resources = [
			resource('clocks', { address: '/clocks' }),
			resource('wall', { address: '/clocks/wall' }),
			resource('deep', { address: '/clocks/wall/one' }),
			resource('alike', { address: '/clocks-and-watches' })
		];
		const caught = (path: string) => {
			const policy = compile(source({ resources, fences: [fence('f', { kind: 'below', path }, [])] }));
			return resources.filter((one) => policy.caughtBy(one).length > 0).map(({ id }) => id);
		};
		expect(caught('/clocks')).toEqual(['wall', 'deep']);
		expect(caught('/clocks/wall')).toEqual(['deep']);
		expect(caught('/')).toEqual(['clocks', 'wall', 'deep', 'alike']);
	});
});

describe('a place that is blocked', () => {
	const policy = policyOf([fence('f', items('wheel'), [crossing({ kind: 'anyone' })])]);

	it.each(['country', 'network'] as const)(
		'keeps out whoever comes from it (%s), whatever they hold',
		(keptOut) => {
			for (const viewer of [stranger, member([grant()])]) {
				const decision = decide(policy, viewer, 'wheel', NOW, { ...NO_CONTEXT, keptOut });
				expect(decision).toMatchObject({ verdict: 'kept-out', teaser: { kind: 'nothing' } });
			}
			const { steps } = explain(policy, stranger, 'wheel', NOW, { ...NO_CONTEXT, keptOut });
			expect(steps).toEqual([{ code: 'kept-out', by: keptOut }]);
		}
	);

	it('keeps no staff out, and shows nobody a draft', () => {
		const kept: Context = { ...NO_CONTEXT, keptOut: 'country' };
		expect(decide(policy, staff, 'wheel', NOW, kept).verdict).toBe('open');
		const drafts = policyOf([], { resources: [resource('wheel', { state: 'draft' })] });
		expect(decide(drafts, stranger, 'wheel', NOW, kept)).toMatchObject({
			verdict: 'shut',
			answer: { kind: 'absent' }
		});
	});
});

describe('limits', () => {
	const limited = (limits: Partial<Parameters<typeof crossing>[1] & object>['limits']) =>
		policyOf([fence('f', items('wheel'), [crossing(holders('workshop'), { limits })])], {
			limits: { uses: { count: 5, per: 'grant' }, minutes: 'none', hours: 'none' }
		});
	const uses = (...at: number[]): Context => ({
		...NO_CONTEXT,
		uses: at.map((n) => ({ grantId: 'grant', at: n, goesOnUntil: n }))
	});
	const none = { uses: 'none', minutes: 'none', hours: 'none' } as const;

	// Common practice, no source: with a limit of 3 the fourth opening is refused with words of its own.
	it('refuses the fourth of three', () => {
		const policy = limited({ ...none, uses: { count: 3, per: 'grant' } });
		const wren = member([grant()]);
		expect(decide(policy, wren, 'wheel', NOW, uses(1, 2)).verdict).toBe('open');
		expect(decide(policy, wren, 'wheel', NOW, uses(1, 2, 3))).toMatchObject({
			verdict: 'used-up',
			standing: 'used-up'
		});
	});

	it('takes the site’s default, five, where the crossing says so, and none where it says none', () => {
		const wren = member([grant()]);
		expect(decide(limited({ ...none, uses: 'site' }), wren, 'wheel', NOW, uses(1, 2, 3, 4)).verdict).toBe(
			'open'
		);
		expect(decide(limited({ ...none, uses: 'site' }), wren, 'wheel', NOW, uses(1, 2, 3, 4, 5)).verdict).toBe(
			'used-up'
		);
		expect(decide(limited(none), wren, 'wheel', NOW, uses(1, 2, 3, 4, 5, 6)).verdict).toBe('open');
	});

	it('begins anew with each paid period, and says when', () => {
		const from = Date.parse('2026-01-31T00:00Z');
		const policy = limited({ ...none, uses: { count: 1, per: 'period' } });
		const wren = member([grant({ from, period: { count: 1, unit: 'month' } })]);
		const used = uses(from + DAY);
		expect(decide(policy, wren, 'wheel', from + 2 * DAY, used)).toMatchObject({
			verdict: 'used-up',
			until: Date.parse('2026-02-28T00:00Z')
		});
		expect(decide(policy, wren, 'wheel', Date.parse('2026-02-28T00:00Z'), used).verdict).toBe('open');
	});

	it('counts uses that were given on top, in the period that they were given in', () => {
		const from = Date.parse('2026-01-01T00:00Z');
		const policy = limited({ ...none, uses: { count: 1, per: 'period' } });
		const wren = member([grant({ from, period: { count: 1, unit: 'month' } })]);
		const given = { ...uses(from + DAY), gifts: [{ count: 1, at: from + 2 * DAY }] };
		expect(decide(policy, wren, 'wheel', from + 3 * DAY, given).verdict).toBe('open');
		const both = { ...given, uses: [...given.uses, ...uses(from + 3 * DAY).uses] };
		expect(decide(policy, wren, 'wheel', from + 4 * DAY, both).verdict).toBe('used-up');
		const february = { ...both, uses: [...both.uses, ...uses(from + 35 * DAY).uses] };
		expect(decide(policy, wren, 'wheel', from + 36 * DAY, february).verdict).toBe('used-up');
	});

	it('lets a use that goes on go on', () => {
		const policy = limited({ ...none, uses: { count: 1, per: 'grant' } });
		const going: Context = { ...NO_CONTEXT, uses: [{ grantId: 'grant', at: NOW, goesOnUntil: NOW + HOUR }] };
		expect(decide(policy, member([grant()]), 'wheel', NOW + HOUR - 1, going).verdict).toBe('open');
		expect(decide(policy, member([grant()]), 'wheel', NOW + HOUR, going).verdict).toBe('used-up');
	});

	it('counts minutes from the first opening and hours from the purchase', () => {
		const minutes = limited({ ...none, minutes: 30 });
		expect(decide(minutes, member([grant()]), 'wheel', NOW + 30 * 60_000 - 1, uses(NOW)).verdict).toBe(
			'open'
		);
		expect(decide(minutes, member([grant()]), 'wheel', NOW + 30 * 60_000, uses(NOW)).verdict).toBe('used-up');
		const hours = limited({ ...none, hours: 48 });
		const bought = member([grant({ from: NOW })]);
		expect(decide(hours, bought, 'wheel', NOW + 48 * HOUR - 1).verdict).toBe('open');
		expect(decide(hours, bought, 'wheel', NOW + 48 * HOUR).verdict).toBe('over');
	});

	it('says which of two limits refused: the count where it is reached, else the minutes', () => {
		const policy = limited({ ...none, minutes: 30, uses: { count: 2, per: 'grant' } });
		const codes = (...at: number[]) =>
			explain(policy, member([grant()]), 'wheel', NOW + HOUR, uses(...at)).steps.map(({ code }) => code);
		expect(codes(NOW)).toContain('minutes-used-up');
		expect(codes(NOW)).not.toContain('uses-used-up');
		expect(codes(NOW, NOW + 60_000)).toContain('uses-used-up');
		expect(codes(NOW, NOW + 60_000)).not.toContain('minutes-used-up');
	});

	it('lets through where nothing is counted first, then by what ends soonest', () => {
		const counted = crossing(holders('workshop'), { limits: { ...none, uses: { count: 9, per: 'grant' } } });
		const policy = policyOf([
			fence('f', items('wheel'), [counted, crossing(holders('quiet')), crossing(holders('old'))])
		]);
		const viewer = member([
			grant({ id: 'counted' }),
			grant({ id: 'long', planId: 'quiet' }),
			grant({ id: 'short', planId: 'old', until: NOW + DAY })
		]);
		expect(decide(policy, viewer, 'wheel', NOW)).toMatchObject({
			allowedBy: { grantId: 'short', isCounted: false },
			until: null
		});
	});
});
