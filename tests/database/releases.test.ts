/** The release board: its rows, what would be with what is not kept yet, and what takes a save back. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Window } from '$core/access/model';
import { isFoldedIn } from '$core/library/folds';
import { addCalendar } from '$core/time/calendar';
import {
	boardWindow,
	itemsOfIdle,
	releaseBoard,
	releasesInside,
	type BoardAsk
} from '$server/reads/desk/releases';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { saveReleases, type ReleaseWish } from '$server/usecases/access/save-releases';
import { saveFence } from '$server/usecases/fences/save-fence';
import { createItem, setState } from '$server/usecases/library/edit-item';
import { FENCE, holding, makeShop, makeWorld, PAGE, type World } from './world';

const URL_OF_BOARD = new URL('http://stile.example/desk/releases');
const ASK: BoardAsk = {
	plan: null,
	compare: null,
	joined: '2026-12-01T10:00',
	within: null,
	search: '',
	isReleased: false,
	isFolded: () => false
};
const JOINED = Date.parse('2026-12-01T10:00Z');
const after = (count: number): Window => ({
	opens: { kind: 'after', count, unit: 'week' },
	closes: { kind: 'never' }
});

let world: World;
let planId: string;
const ids: Record<string, string> = {};
const wish = (name: string, window: Window | null): ReleaseWish => ({
	target: { kind: 'resource', id: ids[name]! },
	window
});
const rows = async (ask: Partial<BoardAsk> = {}, wishes: ReleaseWish[] = [], from = 0, count = 50) =>
	boardWindow(world.app, { ...ASK, plan: planId, ...ask }, URL_OF_BOARD, wishes, from, count);
const titles = async (ask: Partial<BoardAsk> = {}) => (await rows(ask)).rows.map(({ title }) => title);
const save = (...wishes: ReleaseWish[]) =>
	agreeing((agreedTo) => saveReleases(world.app, null, planId, wishes, agreedTo));

async function make(title: string, kind: 'course' | 'section' | 'lesson' | 'page', home?: string) {
	const homeId = home ? ids[home]! : null;
	const made = await createItem(world.app, null, { ...PAGE, title, kind, homeId });
	if (made.kind !== 'saved') throw new Error(JSON.stringify(made));
	const published = { state: 'published' as const, publishAt: null };
	await agreeing((agreedTo) => setState(world.app, null, made.itemId, published, agreedTo));
	ids[title] = made.itemId;
}

beforeAll(async () => {
	world = await makeWorld();
	({ planId } = await makeShop(world));
	await make('Clock', 'course');
	await make('Apart', 'section', 'Clock');
	await make('Mainspring', 'lesson', 'Apart');
	await make('Plates', 'lesson', 'Apart');
	await make('Together', 'section', 'Clock');
	await make('Pivots', 'lesson', 'Together');
	await make('Tools', 'page');
	const selector = { kind: 'within' as const, collectionId: ids['Apart']!, withPage: false, extensions: [] };
	await agreeing((agreedTo) =>
		saveFence(world.app, null, {
			fenceId: null,
			revision: 1,
			agreedTo,
			wish: { ...FENCE, name: 'Apart', selector, crossings: [holding(planId)] }
		})
	);
	await save(wish('Plates', after(2)), wish('Tools', after(1)));
});
afterAll(async () => world.end());

describe('the release board', () => {
	it('lays things out below their homes, with their releases and when they open', async () => {
		const { rows: all, total } = await rows();
		expect(all.map(({ title, depth }) => `${depth} ${title}`)).toEqual([
			'0 Tools',
			'0 Clock',
			'1 Apart',
			'2 Mainspring',
			'2 Plates',
			'1 Together',
			'2 Pivots',
			'0 Wheel'
		]);
		expect(total).toBe(8);
		const { idle } = await releaseBoard(world.app, { ...ASK, plan: planId }, URL_OF_BOARD, 3);
		const plates = all.find(({ title }) => title === 'Plates');
		expect(plates?.own).toEqual(after(2));
		expect(plates?.open).toEqual([{ start: addCalendar(JOINED, 2, 'week', 'UTC'), end: null }]);
		expect(all.find(({ title }) => title === 'Tools')?.idle).toBe('open-anyway');
		expect(idle).toEqual({ 'not-let-in': 0, 'open-anyway': 1 });
		expect(await itemsOfIdle(world.app, planId, 'open-anyway')).toEqual([ids['Tools']]);
	});

	it('is told in windows, and gives the same rows', async () => {
		const whole = (await rows()).rows;
		const parts = [...(await rows({}, [], 0, 3)).rows, ...(await rows({}, [], 3, 50)).rows];
		expect(parts).toEqual(whole);
	});

	it('finds with one wrong letter, and keeps the homes of what it found', async () => {
		expect(await titles({ search: 'mainsprng' })).toEqual(['Clock', 'Apart', 'Mainspring']);
		expect(await titles({ isReleased: true })).toEqual(['Tools', 'Clock', 'Apart', 'Plates']);
		expect(await titles({ search: 'pivots', isReleased: true })).toEqual([]);
	});

	it('folds homes, and shows one collection alone', async () => {
		expect(await titles({ isFolded: isFoldedIn('all') })).toEqual(['Tools', 'Clock', 'Wheel']);
		expect(await titles({ isFolded: isFoldedIn(ids['Apart']!) })).toEqual([
			'Tools',
			'Clock',
			'Apart',
			'Together',
			'Pivots',
			'Wheel'
		]);
		expect(await titles({ within: ids['Together']! })).toEqual(['Together', 'Pivots']);
	});

	it('says what would be with what is not kept yet, and keeps nothing', async () => {
		const tried = await rows({ isReleased: true }, [wish('Apart', after(4)), wish('Plates', null)]);
		const four = addCalendar(JOINED, 4, 'week', 'UTC');
		const opens = (title: string) => tried.rows.find((row) => row.title === title)?.open[0]?.start;
		expect([opens('Plates'), opens('Apart')]).toEqual([four, four]);
		// What is kept is told beside it.
		expect(tried.rows.find(({ title }) => title === 'Plates')?.own).toEqual(after(2));
		const pivots = (await rows({}, [wish('Pivots', after(1))])).rows.find(({ title }) => title === 'Pivots');
		expect(pivots?.idle).toBe('open-anyway');
		const now = await rows();
		expect(now.rows.find(({ title }) => title === 'Apart')?.own).toBeNull();
	});

	it('ignores what is gone, and a plan that is none', async () => {
		const gone = { target: { kind: 'resource' as const, id: 'gone' }, window: after(1) };
		expect((await rows({}, [gone])).total).toBe(8);
		expect((await rows({ plan: 'none', within: 'gone' })).rows).toEqual([]);
	});

	it('tells what lives in a collection, in its order, with its releases', async () => {
		const inside = await releasesInside(world.app, ids['Clock']!, planId);
		expect(inside.map(({ id }) => id)).toEqual(
			['Apart', 'Mainspring', 'Plates', 'Together', 'Pivots'].map((name) => ids[name])
		);
		expect(inside.find(({ id }) => id === ids['Plates'])?.own).toEqual(after(2));
	});
});

describe('saving releases', () => {
	it('gives what takes it back', async () => {
		const saved = await save(wish('Plates', after(5)), wish('Mainspring', after(1)));
		if (saved.kind !== 'saved') throw new Error(saved.kind);
		expect(saved.before).toEqual([wish('Plates', after(2)), wish('Mainspring', null)]);
		await save(...saved.before);
		const { rows: all } = await rows();
		expect(all.find(({ title }) => title === 'Plates')?.own).toEqual(after(2));
		expect(all.find(({ title }) => title === 'Mainspring')?.own).toBeNull();
	});
});
