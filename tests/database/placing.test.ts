/** What items show: one film on several pages, and new content in the place of old. */
import { writeFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { itemById } from '$server/db/queries/items';
import { comingOf, versionsOfItem, captionsOfAsset } from '$server/db/queries/library';
import { preparations, waitingForYes } from '$server/db/queries/today';
import { dependentsOf } from '$server/usecases/library/dependents';
import { createItem, setState, type ItemWish } from '$server/usecases/library/edit-item';
import { saveCaptions, saveChapters } from '$server/usecases/library/edit-media';
import {
	giveUpComing,
	showAlso,
	showComing,
	showEarlier,
	showNothing
} from '$server/usecases/library/placements';
import { receiveFile } from '$server/usecases/library/receive-file';
import { agreeing } from '$server/usecases/access/rehearsed-save';
import { saveFence } from '$server/usecases/fences/save-fence';
import { STRANGER } from '$core/access/model';
import { assetOf, film, receivedFilm } from './films';
import { FENCE, holding, makeWorld, scratch, type World } from './world';

let world: World;
let filmId: string;
let lessonId: string;

const place = async (itemId: string, fromItemId: string, isAgreed = false) => {
	const first = await showAlso(world.app, null, { itemId, fromItemId, agreedTo: null });
	if (!isAgreed || first.ok || first.code !== 'opens-wider') return first;
	// A yes to something else is none.
	expect(await showAlso(world.app, null, { itemId, fromItemId, agreedTo: 'another' })).toEqual(first);
	return showAlso(world.app, null, { itemId, fromItemId, agreedTo: first.yes });
};
const prepare = () => world.stile.runner.runDue('media');

async function make(kind: ItemWish['kind'], over: Partial<ItemWish> = {}): Promise<string> {
	const made = await createItem(world.app, null, {
		kind,
		title: kind,
		text: [],
		address: '',
		homeId: null,
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
		expect(await place(page, filmId)).toMatchObject({
			ok: false,
			code: 'opens-wider',
			to: [{ kind: 'strangers' }]
		});
		expect(await place(page, filmId, true)).toEqual({ ok: true });
		expect(await showNothing(world.app, null, page)).toEqual({ ok: true });
	});

	it('cannot show what shows nothing', async () => {
		const page = await make('page');
		expect(await place(page, lessonId)).toEqual({ ok: true });
		expect(await showNothing(world.app, null, page)).toEqual({ ok: true });
		expect(await place(lessonId, page)).toEqual({ ok: false, code: 'shows-nothing' });
		expect(await showNothing(world.app, null, filmId)).toEqual({ ok: false, code: 'unknown' });
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
		expect(await showEarlier(world.app, null, filmId, kept?.assetId ?? '')).toBe('shown');
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

describe('a file that is replaced by one of another ending', () => {
	let courseId: string;
	let fileId: string;
	const bring = async (name: string, text: string, more: { homeId?: string; replaces?: string }) => {
		const path = scratch(name);
		writeFileSync(path, text);
		const received = await receiveFile(world.app, null, { path, name, ...more });
		if (!received.ok) throw new Error(received.problem.code);
		return received.itemId;
	};
	const verdict = async () => (await world.app.rights.decideFor(STRANGER, fileId)).verdict;

	beforeAll(async () => {
		courseId = await make('shelf', { address: '/papers', title: 'Papers' });
		fileId = await bring('plan.txt', 'A plan of the wheel', { homeId: courseId });
		for (const id of [courseId, fileId])
			await agreeing((yes) => setState(world.app, null, id, { state: 'published', publishAt: null }, yes));
		const selector = { kind: 'within' as const, collectionId: courseId, withPage: true, extensions: ['md'] };
		const crossings = [{ ...holding(''), audience: { kind: 'anyone' as const } }];
		await agreeing((agreedTo) =>
			saveFence(world.app, null, {
				fenceId: null,
				revision: 1,
				agreedTo,
				wish: { ...FENCE, name: 'Notes', selector, crossings }
			})
		);
	});

	it('shows it at once where no fence asks for endings of that kind', async () => {
		await bring('plan.csv', 'wheel;teeth', { replaces: fileId });
		expect((await assetOf(world, fileId)).fileName).toBe('plan.csv');
		expect((await itemById(world.app.db, fileId))?.extension).toBe('csv');
		expect(await verdict()).toBe('shut');
	});

	it('waits for a yes where that opens it to others, and shows it by that yes', async () => {
		await bring('plan.md', '# The wheel', { replaces: fileId });
		expect((await assetOf(world, fileId)).fileName).toBe('plan.csv');
		expect(await comingOf(world.app.db, fileId)).toMatchObject({ fileName: 'plan.md' });
		expect(await waitingForYes(world.app.db)).toMatchObject([{ itemId: fileId, fileName: 'plan.md' }]);
		expect(await verdict()).toBe('shut');
		const asked = await showComing(world.app, null, fileId, null);
		if (asked.kind !== 'rehearsed') throw new Error(asked.kind);
		expect(asked.rehearsal.result.outsiders[0]).toMatchObject({
			who: { kind: 'stranger' },
			kind: 'gains-now',
			placeIds: [fileId]
		});
		expect(await verdict()).toBe('shut');
		expect(await showComing(world.app, null, fileId, asked.rehearsal.id)).toEqual({ kind: 'saved' });
		expect(await waitingForYes(world.app.db)).toEqual([]);
		expect((await assetOf(world, fileId)).fileName).toBe('plan.md');
		expect(await verdict()).toBe('open');
		expect(await showComing(world.app, null, fileId, asked.rehearsal.id)).toEqual({ kind: 'refused' });
	});

	it('waits, too, where an earlier version would close it', async () => {
		const kept = (await versionsOfItem(world.app.db, fileId)).find(({ fileName }) => fileName === 'plan.txt');
		expect(await showEarlier(world.app, null, fileId, kept?.assetId ?? '')).toBe('waits');
		expect(await verdict()).toBe('open');
		await giveUpComing(world.app, null, fileId);
		expect((await assetOf(world, fileId)).fileName).toBe('plan.md');
	});
});
