/** The outline of a collection: what is added, moved and renamed in it, by several at once. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { itemById } from '$server/db/queries/items';
import { items } from '$server/db/schema/library';
import { outlineOf } from '$server/reads/desk/outline';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { createPlan } from '$server/usecases/plans/save-plan';
import { saveFence } from '$server/usecases/fences/save-fence';
import {
	createItem,
	editItem,
	itemRevision,
	setState,
	textOf,
	type ItemWish
} from '$server/usecases/library/edit-item';
import { moveItem, renameItem } from '$server/usecases/library/outline';
import { FENCE, holding, makeWorld, PAGE, PLAN, type World } from './world';

let world: World;
beforeAll(async () => (world = await makeWorld()));
afterAll(async () => world.end());

const make = async (kind: ItemWish['kind'], title: string, over: Partial<ItemWish> = {}) => {
	const made = await createItem(world.app, null, { ...PAGE, kind, title, base: 'closed', ...over });
	if (made.kind !== 'saved') throw new Error(made.kind);
	return made.itemId;
};
/** As the outline shows it: `A[1 2] 3`. */
async function written(rootId: string): Promise<string> {
	const found = await outlineOf(world.app, rootId);
	const inside = (homeId: string): string =>
		(found?.rows ?? [])
			.filter((row) => row.homeId === homeId)
			.map((row) => (row.kind === 'section' ? `${row.title}[${inside(row.id)}]` : row.title))
			.join(' ');
	return inside(rootId);
}
const move = (id: string, homeId: string, after?: string | null) =>
	moveItem(world.app, null, id, { homeId, ...(after === undefined ? {} : { after }) });

describe('an outline', () => {
	it('grows at the end, at the beginning and after a row, and counts what is played', async () => {
		const course = await make('course', 'Course');
		const a = await make('section', 'A', { homeId: course });
		const one = await make('lesson', '1', { homeId: a });
		await make('lesson', '3', { homeId: a });
		await make('lesson', '2', { homeId: a, after: one });
		await make('lesson', '0', { homeId: a, after: null });
		await make('lesson', 'last', { homeId: course });
		await make('section', 'Before', { homeId: course, after: null });
		expect(await written(course)).toBe('Before[] A[0 1 2 3] last');
		expect(await outlineOf(world.app, course, 2)).toMatchObject({
			total: 7,
			rows: [{ title: 'Before' }, { title: 'A' }]
		});
		expect(await outlineOf(world.app, 'none')).toBeNull();
	});

	it('is put into another order, into another home, and refuses what cannot live there', async () => {
		const course = await make('course', 'Course');
		const a = await make('section', 'A', { homeId: course });
		const b = await make('section', 'B', { homeId: course });
		const [one, two] = [await make('lesson', '1', { homeId: a }), await make('lesson', '2', { homeId: a })];
		expect(await move(one, a, two)).toEqual({ kind: 'saved' });
		expect(await written(course)).toBe('A[2 1] B[]');
		await move(two, b, null);
		expect(await written(course)).toBe('A[1] B[2]');
		await move(a, course);
		expect(await written(course)).toBe('B[2] A[1]');
		await move(two, course, b);
		expect(await written(course)).toBe('B[] 2 A[1]');
		expect(await move(a, b, null)).toEqual({ kind: 'refused', code: 'wrong-home' });
		expect(await move(one, one, null)).toEqual({ kind: 'refused', code: 'wrong-home' });
		expect(await move(course, course, null)).toEqual({ kind: 'refused', code: 'wrong-home' });
		expect(await move('01a21006-0000-7000-8000-000000000009', a)).toEqual({
			kind: 'refused',
			code: 'unknown'
		});
		expect(await written(course)).toBe('B[] 2 A[1]');
	});

	it('asks where a move would change who may open something, and writes nothing before the yes', async () => {
		const course = await make('course', 'Course');
		const [a, b] = [
			await make('section', 'A', { homeId: course }),
			await make('section', 'B', { homeId: course })
		];
		const lesson = await make('lesson', 'Open', { homeId: a, base: 'open' });
		await agreeing((agreedTo) =>
			setState(world.app, null, lesson, { state: 'published', publishAt: null }, agreedTo)
		);
		const planId = await createPlan(world.app, null, PLAN);
		const wish = {
			...FENCE,
			selector: { kind: 'within' as const, collectionId: b, withPage: true, extensions: [] },
			crossings: [holding(planId)]
		};
		await agreeing((agreedTo) => saveFence(world.app, null, { fenceId: null, revision: 1, agreedTo, wish }));
		const asked = await move(lesson, b, null);
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		expect(await written(course)).toBe('A[Open] B[]');
		const to = { homeId: b, after: null };
		// A yes to this move is none to another.
		expect(
			(await moveItem(world.app, null, lesson, { homeId: course, after: null }, asked.rehearsal.id)).kind
		).toBe('saved');
		const again = await move(lesson, b, null);
		if (again.kind !== 'rehearsed') throw new Error(again.kind);
		expect(await moveItem(world.app, null, lesson, to, again.rehearsal.id)).toEqual({ kind: 'saved' });
		expect(await written(course)).toBe('A[] B[Open]');
	});

	it('keeps what eight add and move at once: nothing is lost, and no two have one place', async () => {
		const course = await make('course', 'Course');
		const section = await make('section', 'A', { homeId: course });
		const first = await make('lesson', 'first', { homeId: section });
		await Promise.all([
			...Array.from({ length: 6 }, (_, n) => make('lesson', `new ${n}`, { homeId: section, after: first })),
			move(first, section),
			renameItem(world.app, null, first, 'First')
		]);
		const rows = (await outlineOf(world.app, course))?.rows ?? [];
		expect(rows.map(({ title }) => title).sort()).toEqual([
			'A',
			'First',
			...[0, 1, 2, 3, 4, 5].map((n) => `new ${n}`)
		]);
		const places = (await world.app.db.select({ homeId: items.homeId, position: items.position }).from(items))
			.filter(({ homeId }) => homeId === section)
			.map(({ position }) => position);
		expect(places.sort()).toEqual([0, 1, 2, 3, 4, 5, 6]);
	});

	it('gives a title without a rehearsal, and says where there is nothing to give it to', async () => {
		const course = await make('course', 'Course');
		expect(await renameItem(world.app, null, course, 'Wheel cutting')).toMatchObject({ ok: true });
		expect((await itemById(world.app.db, course))?.title).toBe('Wheel cutting');
		expect((await outlineOf(world.app, course))?.title).toBe('Wheel cutting');
		expect(await renameItem(world.app, null, '01a21006-0000-7000-8000-000000000009', 'x')).toMatchObject({
			ok: false
		});
	});

	it('is no change of what stands in it: an editor that is open elsewhere may save', async () => {
		const course = await make('course', 'Course');
		const one = await make('lesson', '1', { homeId: course });
		const before = await itemById(world.app.db, one);
		if (!before) throw new Error('gone');
		await make('lesson', '0', { homeId: course, after: null });
		const wish = {
			...PAGE,
			...before,
			address: before.address ?? '',
			text: textOf(before),
			tagIds: [],
			title: 'One'
		};
		const saved = await editItem(world.app, null, one, wish, null, itemRevision(before, []));
		expect(saved.kind).toBe('saved');
		expect(await written(course)).toBe('0 One');
	});

	it('takes what an editor gives another home to its end', async () => {
		const [a, b] = [await make('course', 'A'), await make('course', 'B')];
		const one = await make('lesson', '1', { homeId: a });
		await make('lesson', '2', { homeId: b });
		const before = await itemById(world.app.db, one);
		if (!before) throw new Error('gone');
		await editItem(world.app, null, one, {
			...PAGE,
			...before,
			address: before.address ?? '',
			text: [],
			tagIds: [],
			homeId: b
		});
		expect(await written(b)).toBe('2 1');
	});
});
