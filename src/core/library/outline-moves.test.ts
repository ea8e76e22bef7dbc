import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import type { ResourceKind } from '../access/model';
import { canLiveIn } from './homes';
import { inOrder, type Outlined } from './outline';
import { movedTo, withMoved, type Direction, type Moved } from './outline-moves';

const COURSE = { id: 'course', kind: 'course' as const };
const SHELF = { id: 'shelf', kind: 'shelf' as const };
const node = (id: string, kind: ResourceKind, inside: Outlined<Moved>[] = []): Outlined<Moved> => ({
	entry: { id, kind },
	inside
});
const lesson = (id: string) => node(id, 'lesson');
const section = (id: string, ...lessons: string[]) => node(id, 'section', lessons.map(lesson));

/** A[1 2] B[3] C[] 4 */
const TREE = [section('A', '1', '2'), section('B', '3'), section('C'), lesson('4')];

const written = (tree: readonly Outlined<Moved>[]): string =>
	tree
		.map(({ entry, inside }) =>
			entry.kind === 'lesson' || entry.kind === 'file' ? entry.id : `${entry.id}[${written(inside)}]`
		)
		.join(' ');

function move(id: string, direction: Direction, tree = TREE, root: Moved = COURSE): string | null {
	const spot = movedTo(tree, root, id, direction);
	return spot && written(withMoved(tree, root.id, id, spot));
}

describe('an outline', () => {
	test.each<[string, Direction, string | null]>([
		['2', 'up', 'A[2 1] B[3] C[] 4'],
		['1', 'up', '1 A[2] B[3] C[] 4'],
		['3', 'up', 'A[1 2 3] B[] C[] 4'],
		['4', 'up', 'A[1 2] B[3] C[4]'],
		['A', 'up', null],
		['B', 'up', 'B[3] A[1 2] C[] 4'],
		['1', 'down', 'A[2 1] B[3] C[] 4'],
		['2', 'down', 'A[1] B[2 3] C[] 4'],
		['3', 'down', 'A[1 2] B[] C[3] 4'],
		['4', 'down', null],
		['C', 'down', 'A[1 2] B[3] 4 C[]'],
		['1', 'inward', 'A[2] B[1 3] C[] 4'],
		['3', 'inward', 'A[1 2] B[] C[3] 4'],
		['4', 'inward', 'A[1 2] B[3] C[4]'],
		['B', 'inward', null],
		['1', 'outward', 'A[2] 1 B[3] C[] 4'],
		['4', 'outward', null],
		['A', 'outward', null],
		['gone', 'up', null]
	])('with %s moved %s is %j', (id, direction, expected) => {
		expect(move(id, direction)).toBe(expected);
	});

	it('takes the last lesson of the last section out, and in again', () => {
		const tree = [section('A', '1')];
		expect(move('1', 'down', tree)).toBe('A[] 1');
		expect(move('1', 'up', [section('A'), lesson('1')])).toBe('A[1]');
	});

	it('of shelves has shelves within shelves, and moves what is in them along', () => {
		const shelves = [node('X', 'shelf', [node('f', 'file')]), node('Y', 'shelf', [node('Z', 'shelf')])];
		expect(move('Y', 'up', shelves, SHELF)).toBe('X[f Y[Z[]]]');
		expect(move('Z', 'outward', shelves, SHELF)).toBe('X[f] Y[] Z[]');
		expect(move('f', 'down', shelves, SHELF)).toBe('X[] Y[f Z[]]');
	});

	it('goes from section to section, and not back to where it stood alone between two', () => {
		const tree = [section('A', '1'), lesson('2'), section('B')];
		expect(move('2', 'up', tree)).toBe('A[1 2] B[]');
		expect(move('2', 'down', [section('A', '1', '2'), section('B')])).toBe('A[1] B[2]');
	});

	it('puts nothing where it cannot live, loses nothing, and leads back to all but a place between two', () => {
		const lessons = fc.array(fc.constant('lesson' as const), { maxLength: 3 });
		const courses = fc.array(fc.option(lessons), { minLength: 1, maxLength: 5 }).map((all) => {
			let n = 0;
			return all.map((one) =>
				one === null ? lesson(`l${n++}`) : section(`s${n++}`, ...one.map(() => `l${n++}`))
			);
		});
		const directions = fc.constantFrom<Direction>('up', 'down', 'inward', 'outward');
		fc.assert(
			fc.property(courses, fc.nat(), directions, (tree, pick, direction) => {
				const all = inOrder(tree);
				const thing = all[pick % all.length]!;
				const spot = movedTo(tree, COURSE, thing.id, direction);
				if (!spot) return;
				const home = spot.homeId === COURSE.id ? COURSE : all.find(({ id }) => id === spot.homeId)!;
				expect(canLiveIn(thing.kind, home.kind)).toBe(true);
				const moved = withMoved(tree, COURSE.id, thing.id, spot);
				expect(
					inOrder(moved)
						.map(({ id }) => id)
						.sort()
				).toEqual(all.map(({ id }) => id).sort());
				expect(written(moved)).not.toBe(written(tree));
				const back = { up: 'down', down: 'up' } as const;
				const at = tree.findIndex(({ entry }) => entry === thing);
				const alone = [tree[at - 1], tree[at + 1]].every((one) => one?.entry.kind === 'section');
				const between = at >= 0 && thing.kind === 'lesson' && alone;
				if ((direction !== 'up' && direction !== 'down') || between) return;
				const again = movedTo(moved, COURSE, thing.id, back[direction])!;
				expect(written(withMoved(moved, COURSE.id, thing.id, again))).toBe(written(tree));
			}),
			{ numRuns: 2000 }
		);
	});

	it('stays as it is where what is moved is not there', () => {
		expect(written(withMoved(TREE, 'course', 'gone', { homeId: 'A', after: null }))).toBe(written(TREE));
	});
});
