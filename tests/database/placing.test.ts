/** What items show: one film on several pages, and new content in the place of old. */
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { comingOf, itemById, versionsOfItem, captionsOfAsset } from '$server/db/queries/library';
import { preparations } from '$server/db/queries/today';
import { dependentsOf } from '$server/usecases/library/dependents';
import { createItem, type ItemWish } from '$server/usecases/library/edit-item';
import { saveCaptions, saveChapters } from '$server/usecases/library/edit-media';
import { giveUpComing, showAlso, showEarlier, showNothing } from '$server/usecases/library/placements';
import { assetOf, film, receivedFilm } from './films';
import { makeWorld, type World } from './world';

let world: World;
let filmId: string;
let lessonId: string;

const place = (itemId: string, fromItemId: string, isAgreed = false) =>
	showAlso(world.app, null, { itemId, fromItemId, isAgreed });
const prepare = () => world.stile.runner.runDue('media');

async function make(kind: ItemWish['kind'], over: Partial<ItemWish> = {}): Promise<string> {
	const made = await createItem(world.app, null, {
		kind,
		title: kind,
		text: [],
		address: '',
		homeId: null,
		position: null,
		categoryId: null,
		tagIds: [],
		base: 'closed',
		extension: null,
		target: null,
		showsPoster: false,
		...over
	});
	if (made.kind !== 'saved') throw new Error(made.kind);
	return made.itemId;
}

beforeAll(async () => {
	world = await makeWorld();
	filmId = await receivedFilm(world, film(4, '320x180'));
	await prepare();
	lessonId = await make('lesson', { homeId: await make('course') });
});
afterAll(async () => world.end());

describe('a lesson', () => {
	it('shows what a film shows, and the film says so', async () => {
		expect(await place(lessonId, filmId)).toEqual({ ok: true });
		expect((await assetOf(world, lessonId)).id).toBe((await assetOf(world, filmId)).id);
		const item = await itemById(world.app.db, filmId);
		if (!item) throw new Error('gone');
		expect((await dependentsOf(world.app, item)).shows).toEqual([{ id: lessonId, title: 'lesson' }]);
	});

	it.each<[string, () => Promise<string>, string]>([
		['a course, which has no page for it', () => make('course'), 'cannot-show'],
		['a film, which is one itself', async () => filmId, 'cannot-show'],
		['something that is gone', async () => '01900000-0000-7000-8000-000000000000', 'unknown']
	])('is not %s', async (_name, item, code) => {
		expect(await place(await item(), filmId)).toEqual({ ok: false, code });
	});

	it('asks first, where it opens to more people than the film does', async () => {
		const page = await make('page', { base: 'open' });
		expect(await place(page, filmId)).toEqual({
			ok: false,
			code: 'opens-wider',
			to: [{ kind: 'strangers' }]
		});
		expect(await place(page, filmId, true)).toEqual({ ok: true });
		expect(await showNothing(world.app, null, page)).toBe(true);
	});

	it('cannot show what shows nothing', async () => {
		const page = await make('page');
		expect(await place(page, lessonId)).toEqual({ ok: true });
		expect(await showNothing(world.app, null, page)).toBe(true);
		expect(await place(lessonId, page)).toEqual({ ok: false, code: 'shows-nothing' });
		expect(await showNothing(world.app, null, filmId)).toBe(false);
	});
});

describe('a film that is replaced', () => {
	it('is shown until the new one is prepared, then the lesson shows the new one, too', async () => {
		const { app } = world;
		const before = await assetOf(world, filmId);
		const cue = { startMs: 500, endMs: 1500, text: 'The wheel turns', settings: '' };
		await saveCaptions(app, null, filmId, { language: 'en', label: 'English', cues: [cue] });
		await saveChapters(app, null, filmId, [
			{ startSeconds: 0, title: 'The wheel' },
			{ startSeconds: 3, title: 'The end' }
		]);
		await receivedFilm(world, film(2, '160x90'), filmId);
		expect((await assetOf(world, filmId)).id).toBe(before.id);
		expect(await comingOf(app.db, filmId)).toMatchObject({ state: 'waiting' });
		expect((await preparations(app.db)).filter(({ itemId }) => itemId === filmId)).toHaveLength(1);
		await prepare();
		const after = await assetOf(world, filmId);
		expect(after).toMatchObject({ seconds: 2, width: 160, state: 'ready' });
		expect(after.id).not.toBe(before.id);
		expect((await assetOf(world, lessonId)).id).toBe(after.id);
		expect(await comingOf(app.db, filmId)).toBeNull();
		// What was written beside it goes over, as far as the new film goes.
		expect(after.chapters).toEqual([{ startSeconds: 0, title: 'The wheel' }]);
		expect((await captionsOfAsset(app.db, after.id)).map(({ cues }) => cues)).toEqual([[cue]]);
	});

	it('comes back where the earlier one is chosen again', async () => {
		const kept = (await versionsOfItem(world.app.db, filmId)).find(({ state }) => state === 'replaced');
		expect(await showEarlier(world.app, null, filmId, kept?.assetId ?? '')).toBe(true);
		expect((await assetOf(world, filmId)).id).toBe(kept?.assetId);
		expect((await assetOf(world, lessonId)).id).toBe(kept?.assetId);
		const states = (await versionsOfItem(world.app.db, filmId)).map(({ state }) => state);
		expect(states).toEqual(['replaced', 'shown']);
	});

	it('stays where the new one is given up, or another comes after it', async () => {
		const before = await assetOf(world, filmId);
		await receivedFilm(world, film(2, '160x90'), filmId);
		await receivedFilm(world, film(2, '240x136'), filmId);
		expect(await comingOf(world.app.db, filmId)).toMatchObject({ width: 240 });
		await giveUpComing(world.app, null, filmId);
		await prepare();
		expect((await assetOf(world, filmId)).id).toBe(before.id);
	});

	it('at a lesson alone leaves the film as it is', async () => {
		const before = await assetOf(world, filmId);
		await receivedFilm(world, film(2, '200x112'), lessonId);
		await prepare();
		expect(await assetOf(world, lessonId)).toMatchObject({ width: 200 });
		expect((await assetOf(world, filmId)).id).toBe(before.id);
	});
});
