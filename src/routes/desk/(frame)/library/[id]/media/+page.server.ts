import { error, fail } from '@sveltejs/kit';
import { readCaptions, readTime, type Cue } from '$core/media/captions';
import { readChapters, writeLines } from '$core/media/chapters';
import {
	captionProblemWords,
	skippedWords,
	chapterProblemWords
} from '$server/usecases/library/arrival-words';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { playerMediaOf } from '$server/http/media/player-media';
import { readOwnDeterrents } from '$server/http/read-deterrents';
import { record } from '$server/http/read-window';
import { itemMedia, wayNames } from '$server/reads/desk/items';
import {
	choosePoster,
	prepareAnew,
	removeCaptions,
	saveCaptions,
	saveChapters,
	saveCover,
	savePlaying
} from '$server/usecases/library/edit-media';
import { showEarlier } from '$server/usecases/library/placements';
import { readForm } from '$server/http/parse';
import { tooLate } from '$server/http/too-late';
import type { Actions, PageServerLoad } from './$types';

const LANGUAGE = /^[a-zA-Z]{2,3}(?:-[a-zA-Z0-9]{2,8})*$/;

export const load: PageServerLoad = async ({ locals: { app, look }, params }) => {
	const edited = await itemMedia(app, params.id);
	if (!edited) error(404, NO_SUCH_PAGE);
	const { item, asset, ...others } = edited;
	const site = await app.site();
	return {
		item: {
			id: item.id,
			title: item.title,
			kind: item.kind,
			hasCover: item.coverKey !== null,
			hasPicture: edited.hasPicture,
			wayId: item.wayId,
			opensInBrowser: item.opensInBrowser,
			deterrents: item.deterrents
		},
		siteDeterrents: site.deterrents,
		asset: {
			kind: asset.kind,
			state: asset.state,
			fileName: asset.fileName,
			mediaType: asset.mediaType,
			bytes: asset.bytes,
			seconds: asset.seconds,
			width: asset.width,
			height: asset.height,
			facts: asset.facts,
			isLevelled: asset.isLevelled,
			posterSeconds: asset.posterSeconds
		},
		...others,
		media: await playerMediaOf(app, look, item.id),
		chapters: writeLines(asset.chapters ?? [])
	};
};

export const actions: Actions = {
	chapters: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const typed = await textOf(form);
		if (typed.trim() === '') {
			if (!(await saveChapters(app, viewer, params.id, [])).ok) return tooLate();
			return { saved: 'Saved: it has no chapters.' };
		}
		const read = readChapters(typed);
		if (!read.ok) return fail(400, { typed, errors: { chapters: [chapterProblemWords(read.problem)] } });
		if (!(await saveChapters(app, viewer, params.id, read.chapters)).ok) return tooLate();
		return {
			saved: `Saved: ${read.chapters.length === 1 ? '1 chapter' : `${read.chapters.length} chapters`}.`
		};
	},
	captions: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const language = String(form.get('language') ?? '').trim();
		const label =
			String(form.get('label') ?? '')
				.trim()
				.slice(0, 80) || language;
		if (!LANGUAGE.test(language))
			return fail(400, { errors: { language: ['Write the language as its code, such as en or pt-BR.'] } });
		const read = readCaptions(await textOf(form));
		if (!read.ok) return fail(400, { errors: { file: [captionProblemWords(read.problem)] } });
		if (!(await saveCaptions(app, viewer, params.id, { language, label, cues: read.cues })).ok)
			return tooLate();
		const count = read.cues.length === 1 ? '1 caption' : `${read.cues.length} captions`;
		return { saved: `Saved: ${count} in ${label}.${skippedWords(read.skipped)}` };
	},
	cues: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const language = String(form.get('language') ?? '');
		const label =
			String(form.get('label') ?? '')
				.trim()
				.slice(0, 80) || language;
		const read = readCues(form.get('cues'));
		if (!read.ok) return fail(400, { errors: { cues: [read.message] } });
		if (!LANGUAGE.test(language))
			return fail(400, { errors: { cues: ['This language is gone. Load the page again.'] } });
		if (!(await saveCaptions(app, viewer, params.id, { language, label, cues: read.cues })).ok)
			return tooLate();
		return { saved: 'Saved.' };
	},
	removeCaptions: async ({ locals: { app, viewer }, request, params }) => {
		const language = String((await readForm(request)).get('language') ?? '');
		if (!(await removeCaptions(app, viewer, params.id, language)).ok) return tooLate();
		return { saved: 'These captions are gone.' };
	},
	poster: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const at = readTime(String(form.get('here') ?? form.get('at') ?? ''));
		if (at === null) return fail(400, { errors: { at: ['Write a time such as 1:30.'] } });
		const chosen = await choosePoster(app, viewer, params.id, at / 1000);
		return chosen.ok
			? { saved: 'This frame stands for it now.' }
			: fail(409, {
					errors: { at: ['No frame can be taken while it is prepared, or where the file lies elsewhere.'] }
				});
	},
	showEarlier: async ({ locals: { app, viewer }, request, params }) => {
		const assetId = String((await readForm(request)).get('assetId') ?? '');
		switch (await showEarlier(app, viewer, params.id, assetId)) {
			case 'shown':
				return { saved: 'It is shown again.' };
			case 'waits':
				return { saved: 'It waits for your yes on the item’s page: with its ending other fences count.' };
			case 'refused':
				return fail(409, { errors: { version: ['This version cannot be shown any more.'] } });
		}
	},
	uncover: async ({ locals: { app, viewer }, params }) => {
		if (!(await saveCover(app, viewer, params.id, null)).ok) return tooLate();
		return { saved: 'The picture is taken away.' };
	},
	level: async ({ locals: { app, viewer }, request, params }) => {
		const isLevelled = (await readForm(request)).get('isLevelled') === 'yes';
		if (!(await prepareAnew(app, viewer, params.id, isLevelled)).ok) return tooLate();
		return { saved: 'It is prepared anew. This takes a while; you can leave it alone.' };
	},
	playing: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const wayId = String(form.get('wayId') ?? '') || null;
		const isKnown = wayId === null || (await wayNames(app)).some(({ id }) => id === wayId);
		if (!isKnown) return fail(409, { errors: { wayId: ['This way of watching is gone. Choose another.'] } });
		const own = readOwnDeterrents(form);
		if (!own.ok) return fail(400, { errors: own.errors });
		const wish = {
			wayId,
			opensInBrowser: form.get('opensInBrowser') === 'yes',
			deterrents: own.value
		};
		const agreed = String(form.get('agreedTo') ?? '') || null;
		const saved = await savePlaying(app, viewer, params.id, wish, agreed);
		if (saved.kind === 'refused') error(404, NO_SUCH_PAGE);
		if (saved.kind === 'asks') return fail(409, { places: saved.places });
		return { saved: 'Saved.' };
	}
};

/** A file if one was chosen, else what was typed. */
async function textOf(form: FormData): Promise<string> {
	const file = form.get('file');
	if (file instanceof File && file.size > 0) return file.text();
	return String(form.get('text') ?? '');
}

function readCues(
	value: FormDataEntryValue | null
): { ok: true; cues: Cue[] } | { ok: false; message: string } {
	let rows: unknown;
	try {
		rows = JSON.parse(String(value ?? ''));
	} catch {
		rows = null;
	}
	if (!Array.isArray(rows))
		return { ok: false, message: 'The captions could not be read. Load the page again.' };
	const cues: Cue[] = [];
	for (const [n, raw] of rows.entries()) {
		const { start, end, text, settings } = record(raw);
		if (typeof text !== 'string' || text.trim() === '') continue;
		const startMs = readTime(String(start ?? ''));
		const endMs = readTime(String(end ?? ''));
		if (startMs === null || endMs === null)
			return { ok: false, message: `Line ${n + 1}: write times such as 1:30.5.` };
		if (endMs <= startMs) return { ok: false, message: `Line ${n + 1} ends before it begins.` };
		cues.push({
			startMs,
			endMs,
			text: text.slice(0, 2000),
			settings: typeof settings === 'string' ? settings : ''
		});
	}
	return { ok: true, cues: cues.sort((a, b) => a.startMs - b.startMs) };
}
