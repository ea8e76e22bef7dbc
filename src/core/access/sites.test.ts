/** Addresses of several sites: what a fence says of one says nothing of another. */
import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import {
	crossing,
	fence,
	holders,
	member,
	grant,
	plan,
	resource,
	source
} from '../../../tests/support/access';
import { aSource, aViewer, IDS, moment } from '../../../tests/support/arbitrary-access';
import { runs } from '../../../tests/support/runs';
import { decide, decideAddress } from './decide/decide';
import type { AddressSelector } from './address-index';
import { STRANGER, type PolicySource, type Selector } from './model';
import { compile } from './policy';

const NOW = Date.parse('2026-03-01T12:00Z');
const SCHOOL = 'school';

const SELECTORS: AddressSelector[] = [
	{ kind: 'everything' },
	{ kind: 'path', path: '/wheel' },
	{ kind: 'below', path: '/' },
	{ kind: 'containing', text: 'whe' },
	{ kind: 'pattern', pattern: '^/wh[e]el$' },
	{ kind: 'pattern', pattern: '^/\\w+$' }
];

describe('the same address on two sites', () => {
	const own = resource('own', { address: '/wheel', base: 'open' });
	const theirs = resource('theirs', { address: '/wheel', base: 'open', siteId: SCHOOL });

	test.each(SELECTORS)('is caught on the one that a fence means: %j', (selector) => {
		const verdicts = (siteId?: string) => {
			const closing = fence('f', siteId === undefined ? selector : { ...selector, siteId }, []);
			const policy = compile(source({ resources: [own, theirs], fences: [closing] }));
			return [
				decide(policy, STRANGER, 'own', NOW).verdict,
				decide(policy, STRANGER, 'theirs', NOW).verdict,
				decideAddress(policy, STRANGER, '/wheel', NOW).verdict,
				decideAddress(policy, STRANGER, '/wheel', NOW, SCHOOL).verdict
			];
		};
		expect(verdicts()).toEqual(['shut', 'open', 'shut', 'open']);
		expect(verdicts(SCHOOL)).toEqual(['open', 'shut', 'open', 'shut']);
		expect(verdicts('another')).toEqual(['open', 'open', 'open', 'open']);
	});

	it('belongs to what is there: an address that nothing has is asked for by itself', () => {
		const closing = fence('f', { kind: 'path', path: '/bench', siteId: SCHOOL }, [
			crossing(holders('workshop'))
		]);
		const policy = compile(
			source({ resources: [own, theirs], plans: [plan('workshop')], fences: [closing] })
		);
		expect(policy.resourceAt('/wheel')).toBe(own);
		expect(policy.resourceAt('/wheel', SCHOOL)).toBe(theirs);
		expect(policy.resourceAt('/wheel', 'another')).toBeNull();
		expect(policy.byAddress.get('/wheel')).toBe(own);
		const wren = member([grant({ from: NOW - 1 })]);
		expect(decideAddress(policy, STRANGER, '/bench', NOW).verdict).toBe('open');
		expect(decideAddress(policy, STRANGER, '/bench', NOW, SCHOOL).verdict).toBe('shut');
		expect(decideAddress(policy, wren, '/bench', NOW, SCHOOL).verdict).toBe('open');
	});
});

it('makes no difference where everything has moved to another site', () => {
	const moved = (of: PolicySource): PolicySource => ({
		...of,
		resources: of.resources.map((one) => ({ ...one, siteId: SCHOOL })),
		fences: of.fences.map((one) => ({ ...one, selector: { ...one.selector, siteId: SCHOOL } as Selector }))
	});
	fc.assert(
		fc.property(aSource, aViewer, fc.constantFrom(...IDS), moment, (of, viewer, id, at) => {
			const [here, there] = [compile(of), compile(moved(of))];
			expect(decide(there, viewer, id, at)).toEqual(decide(here, viewer, id, at));
			for (const path of ['/', '/page', '/courses/clock/lesson', '/nothing'])
				expect(decideAddress(there, viewer, path, at, SCHOOL)).toEqual(decideAddress(here, viewer, path, at));
		}),
		{ seed: 14, numRuns: runs(300) }
	);
});
