import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { libraryRows, ROW_ORDERS, type Laid, type RowsAsk } from './rows';

const item = (id: string, homeId: string | null, over: Partial<Laid> = {}): Laid => ({
	id,
	title: id,
	kind: 'lesson',
	state: 'published',
	homeId,
	position: 0,
	seconds: null,
	createdAt: 0,
	changedAt: 0,
	...over
});

const ALL: RowsAsk = { isFound: null, unfolded: new Set(), order: 'place', isDescending: false };
const laid = (items: Laid[], ask: Partial<RowsAsk> = {}) =>
	libraryRows(items, { ...ALL, ...ask }).map(({ id, depth }) => '  '.repeat(depth) + id);

const COURSE = [
	item('course', null, { kind: 'course', createdAt: 1 }),
	item('strike', 'course', { kind: 'section', position: 2 }),
	item('strip', 'course', { kind: 'section', position: 1 }),
	item('plates', 'strip', { position: 2, seconds: 60 }),
	item('screw', 'strip', { position: 1, seconds: 90 }),
	item('film', null, { kind: 'video', createdAt: 2, title: 'The escapement' })
];

describe('the Library as rows', () => {
	it('folds away what lives in something, the newest of what lives nowhere first', () => {
		expect(laid(COURSE)).toEqual(['film', 'course']);
	});

	it('unfolds what is asked for, in the order of its places', () => {
		expect(laid(COURSE, { unfolded: new Set(['course', 'strip']) })).toEqual([
			'film',
			'course',
			'  strip',
			'    screw',
			'    plates',
			'  strike'
		]);
	});

	it('shows nothing of what lies in a home that is folded, whether it is unfolded or not', () => {
		expect(laid(COURSE, { unfolded: new Set(['strip']) })).toEqual(['film', 'course']);
	});

	it('shows what is found below all its homes, and marks those that are only homes', () => {
		const rows = libraryRows(COURSE, { ...ALL, isFound: (id) => id === 'plates' || id === 'course' });
		expect(rows.map(({ id, isFound, inside }) => [id, isFound, inside])).toEqual([
			['course', true, 1],
			['strip', false, 1],
			['plates', true, 0]
		]);
	});

	it('counts what lives in something, not what is further in', () => {
		expect(libraryRows(COURSE, ALL).find(({ id }) => id === 'course')).toMatchObject({
			inside: 2,
			isUnfolded: false
		});
	});

	it.each([
		['title', false, ['course', 'film']],
		['title', true, ['film', 'course']],
		['kind', false, ['course', 'film']],
		['changed', false, ['course', 'film']]
	] as const)('orders by %s, backwards: %j', (order, isDescending, wanted) => {
		expect(laid(COURSE, { order, isDescending })).toEqual(wanted);
	});

	it('orders from drafts to what is published, and the other way round', () => {
		const some = (['published', 'draft', 'scheduled'] as const).map((state) => item(state, null, { state }));
		expect(laid(some, { order: 'state' })).toEqual(['draft', 'scheduled', 'published']);
		expect(laid(some, { order: 'state', isDescending: true })).toEqual(['published', 'scheduled', 'draft']);
	});

	it('orders within each home, and numbers as numbers', () => {
		const parts = ['Part 10', 'Part 9', 'Part 1'].map((title, n) => item(`p${n}`, 'course', { title }));
		const rows = libraryRows([COURSE[0]!, ...parts], {
			...ALL,
			unfolded: new Set(['course']),
			order: 'title'
		});
		expect(rows.map(({ id }) => id)).toEqual(['course', 'p2', 'p1', 'p0']);
	});

	it('orders by length, what has none first', () => {
		const rows = laid(COURSE, { unfolded: new Set(['course', 'strip']), order: 'length' });
		expect(rows.filter((row) => row.startsWith('    '))).toEqual(['    plates', '    screw']);
	});

	it('shows what lives in something that is not there as if it lived nowhere', () => {
		expect(laid([item('lost', 'gone')])).toEqual(['lost']);
	});
});

const world = fc
	.array(fc.record({ home: fc.nat(20), position: fc.nat(5), seconds: fc.option(fc.nat(100)) }), {
		maxLength: 25
	})
	.map((made) =>
		made.map(({ home, position, seconds }, n) =>
			// Homes come before what lives in them: no circles.
			item(`i${String(n).padStart(2, '0')}`, home < n ? `i${String(home).padStart(2, '0')}` : null, {
				position,
				seconds,
				createdAt: n
			})
		)
	);

describe('of any Library', () => {
	it('with everything unfolded each thing stands once, right below its home', () => {
		fc.assert(
			fc.property(world, fc.constantFrom(...ROW_ORDERS), fc.boolean(), (items, order, isDescending) => {
				const rows = libraryRows(items, {
					...ALL,
					unfolded: new Set(items.map(({ id }) => id)),
					order,
					isDescending
				});
				expect(rows.map(({ id }) => id).sort()).toEqual(items.map(({ id }) => id).sort());
				const homes: string[] = [];
				for (const { id, depth } of rows) {
					expect(items.find((one) => one.id === id)?.homeId ?? null).toBe(homes[depth - 1] ?? null);
					homes.length = depth;
					homes.push(id);
				}
			})
		);
	});

	it('what is found is there, and every other row leads to something that is', () => {
		fc.assert(
			fc.property(world, fc.infiniteStream(fc.boolean()), (items, chances) => {
				const found = new Set(items.filter(() => chances.next().value).map(({ id }) => id));
				const rows = libraryRows(items, { ...ALL, isFound: (id) => found.has(id) });
				expect(rows.filter(({ isFound }) => isFound).map(({ id }) => id)).toHaveLength(found.size);
				for (const [n, row] of rows.entries())
					if (!row.isFound) expect(rows[n + 1]?.depth).toBe(row.depth + 1);
			})
		);
	});
});
