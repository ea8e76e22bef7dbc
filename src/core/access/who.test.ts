import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
	after,
	crossing,
	DAY,
	fence,
	holders,
	items,
	plan,
	release,
	resource,
	source
} from '../../../tests/support/access';
import { aSource, IDS, moment } from '../../../tests/support/arbitrary-access';
import { runs } from '../../../tests/support/runs';
import { decide } from './decide/decide';
import { STRANGER, type PolicySource } from './model';
import { newcomer, signedUp } from './newcomers';
import { compile } from './policy';
import { whoGetsIn } from './who';

const NOW = Date.parse('2026-06-01T12:00Z');
const who = (over: Partial<PolicySource>) =>
	whoGetsIn(
		compile(source({ resources: [resource('wheel')], plans: [plan('workshop'), plan('patron')], ...over })),
		'wheel',
		NOW
	);
const closed = (...crossings: ReturnType<typeof crossing>[]) => ({
	fences: [fence('f', items('wheel'), crossings)]
});
const open = { kind: 'open' };

describe('who gets in', () => {
	it.each([
		['nobody where nothing lets anybody in', {}, { kind: 'plans', plans: [] }],
		['anyone where it is open', { resources: [resource('wheel', { base: 'open' })] }, { kind: 'anyone' }],
		['anyone by a crossing', closed(crossing({ kind: 'anyone' })), { kind: 'anyone' }],
		['whoever is signed in', closed(crossing({ kind: 'signed-in' })), { kind: 'signed-in' }],
		[
			'the plan that is named',
			closed(crossing(holders('patron'))),
			{ kind: 'plans', plans: [{ planId: 'patron', entry: open }] }
		],
		[
			'nobody while it is a draft',
			{ ...closed(crossing(holders('patron'))), resources: [resource('wheel', { state: 'draft' })] },
			{ kind: 'plans', plans: [] }
		],
		[
			'nobody where only named members may cross: none of them is new',
			closed(crossing({ kind: 'named' })),
			{ kind: 'plans', plans: [] }
		]
	] as const)('%s', (_, over, wanted) => {
		expect(who(over as Partial<PolicySource>)).toEqual(wanted);
	});

	it('tells a wait that counts from joining from a day that is the same for all', () => {
		const fences = closed(
			crossing(holders('workshop'), { window: after(2, 'week') }),
			crossing(holders('patron'), {
				window: { opens: { kind: 'on', at: NOW + 10 * DAY }, closes: { kind: 'never' } }
			})
		);
		expect(who(fences)).toEqual({
			kind: 'plans',
			plans: [
				{ planId: 'workshop', entry: { kind: 'later', at: NOW + 14 * DAY, isFromJoining: true } },
				{ planId: 'patron', entry: { kind: 'later', at: NOW + 10 * DAY, isFromJoining: false } }
			]
		});
	});

	it('counts a wait of a day from joining, though whoever joined the day before is in already', () => {
		expect(who(closed(crossing(holders('patron'), { window: after(1, 'day') })))).toEqual({
			kind: 'plans',
			plans: [{ planId: 'patron', entry: { kind: 'later', at: NOW + DAY, isFromJoining: true } }]
		});
	});

	it('counts releases', () => {
		const releases = [release('patron', 'wheel', after(3, 'day'))];
		expect(who({ ...closed(crossing(holders('patron', 'workshop'))), releases })).toEqual({
			kind: 'plans',
			plans: [
				{ planId: 'workshop', entry: open },
				{ planId: 'patron', entry: { kind: 'later', at: NOW + 3 * DAY, isFromJoining: true } }
			]
		});
	});

	it('says of any world what its decisions say', () => {
		fc.assert(
			fc.property(aSource, fc.constantFrom(...IDS), moment, (made, id, at) => {
				const policy = compile(made);
				if (!policy.resources.has(id)) return;
				const found = whoGetsIn(policy, id, at);
				const verdict = (viewer: Parameters<typeof decide>[1]) => decide(policy, viewer, id, at).verdict;
				expect(found.kind === 'anyone').toBe(verdict(STRANGER) === 'open');
				if (found.kind === 'anyone') return;
				expect(found.kind === 'signed-in').toBe(
					verdict(signedUp({ plans: [], zone: policy.source.zone }, at)) === 'open'
				);
				if (found.kind === 'signed-in') return;
				const named = new Map(found.plans.map(({ planId, entry }) => [planId, entry.kind]));
				for (const planId of policy.plans.keys()) {
					const said = verdict(newcomer(planId, at));
					expect(named.get(planId)).toBe(
						said === 'open' ? 'open' : said === 'opens-later' ? 'later' : undefined
					);
				}
			}),
			{ numRuns: runs(500) }
		);
	});
});
