import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { member, source } from '../../../tests/support/access';
import { someNamings } from '../../../tests/support/arbitrary-access';
import { runs } from '../../../tests/support/runs';
import { applied, comparing, undone } from './delta';
import { membersNamedIn, namedAnew, namingChanges, namingsIn } from './namings';
import type { Naming } from './model';
import { drained } from '../pieces';

const of = (memberId: string, namings: readonly Naming[]) => namings.map((one) => ({ ...one, memberId }));
const sorted = (namings: readonly Naming[]) =>
	[...namings].sort((a, b) => (a.crossingId < b.crossingId ? -1 : 1));

describe('who is named', () => {
	it('goes from one list to the other by its changes, and back, each member for themselves', () => {
		fc.assert(
			fc.property(
				someNamings,
				someNamings,
				someNamings,
				someNamings,
				(wrenWas, wrenIs, jasperWas, jasperIs) => {
					const changes = namingChanges(
						[...of('wren', wrenWas), ...of('jasper', jasperWas)],
						[...of('jasper', jasperIs), ...of('wren', wrenIs)]
					);
					const wren = member([], { id: 'wren', namings: wrenWas });
					const after = namedAnew(wren, changes);
					expect(sorted(after.namings)).toEqual(sorted(wrenIs));
					const back = namedAnew(after, namingsIn(undone(changes)));
					expect(sorted(back.namings)).toEqual(sorted(wrenWas));
					const jasper = member([], { id: 'jasper', namings: jasperWas });
					expect(sorted(namedAnew(jasper, changes).namings)).toEqual(sorted(jasperIs));
				}
			),
			{ seed: 27, numRuns: runs(300) }
		);
	});

	it('changes only where a day differs, and says of whom', () => {
		const same = of('wren', [{ crossingId: 'line', since: 5 }]);
		expect(namingChanges(same, [...same])).toEqual([]);
		const moved = namingChanges(same, of('wren', [{ crossingId: 'line', since: 6 }]));
		expect(moved).toEqual([
			{
				kind: 'naming',
				id: 'line wren',
				before: { crossingId: 'line', memberId: 'wren', since: 5 },
				after: { crossingId: 'line', memberId: 'wren', since: 6 }
			}
		]);
		expect([
			...membersNamedIn([...moved, ...namingChanges(of('edda', [{ crossingId: 'x', since: 1 }]), [])])
		]).toEqual(['wren', 'edda']);
		const edda = member([], { id: 'edda' });
		expect(namedAnew(edda, moved)).toBe(edda);
	});

	it('is part of a change of the policy, and no part of the policy', () => {
		const changes = namingChanges([], of('wren', [{ crossingId: 'line', since: 5 }]));
		const delta = drained(comparing(changes));
		expect(namingsIn(delta)).toEqual(changes);
		const before = source({});
		expect(applied(before, delta)).toEqual(before);
	});
});
