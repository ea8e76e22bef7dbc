import { fail } from '@sveltejs/kit';
import { readWay, USUAL_WAY } from '$core/media/way';
import { waysOfWatching } from '$server/reads/desk/settings';
import { readDeterrents } from '$server/http/read-deterrents';
import {
	wayRevision,
	removeWay,
	saveDeterrents,
	saveWay
} from '$server/usecases/running/save-media-settings';
import { revisionOf } from '$server/revision';
import { begunWith, readForm } from '$server/http/parse';
import { wayWords } from '$ui/wording/way';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app } }) => ({
	deterrents: (await app.site()).deterrents,
	revision: revisionOf((await app.site()).deterrents),
	ways: (await waysOfWatching(app))
		.map((own) => ({ ...own, revision: wayRevision(own) }))
		.sort((a, b) => Number(b.isDefault) - Number(a.isDefault)),
	fresh: USUAL_WAY
});

export const actions: Actions = {
	deterrents: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const read = readDeterrents(form);
		if (!read.ok) return fail(400, { errors: read.errors });
		const saved = await saveDeterrents(app, viewer, read.value, {
			revision: begunWith(form),
			agreedTo: String(form.get('agreedTo') ?? '') || null
		});
		if (saved.kind === 'asks') return fail(409, { places: saved.places });
		if (saved.kind === 'changed') {
			const { blockedCountries, blockedNetworks, embedSites } = saved.theirs;
			const words = `${blockedCountries.length} countries and ${blockedNetworks.length} networks blocked, ${embedSites.length} sites that may embed.`;
			return fail(409, { theirs: { revision: revisionOf(saved.theirs), words } });
		}
		return { saved: 'Saved. It counts from now on.' };
	},
	way: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const id = String(form.get('id') ?? '') || null;
		const name = String(form.get('name') ?? '').trim();
		if (name === '' || name.length > 80)
			return fail(400, { wayId: id, errors: { name: ['Give it a name of at most 80 characters.'] } });
		const way = readWay({
			accent: form.get('hasAccent') === 'yes' ? form.get('accent') : null,
			may: form.getAll('may'),
			speeds: form.getAll('speeds'),
			going: form.get('going'),
			resting: form.get('resting'),
			startsMuted: form.get('startsMuted') === 'yes'
		});
		if (!way) return fail(400, { wayId: id, errors: { accent: ['Choose a colour such as #2c6650.'] } });
		const wish = { id, name, isDefault: form.get('isDefault') === 'yes', way };
		const saved = await saveWay(app, viewer, wish, begunWith(form));
		if (saved.kind === 'changed') {
			const { theirs } = saved;
			const words = `“${theirs.name}”: ${wayWords(theirs.way)}`;
			return fail(409, { wayId: id, theirWay: { revision: wayRevision(theirs), words } });
		}
		return { wayId: id, savedWay: `Saved: ${name}.` };
	},
	remove: async ({ locals: { app, viewer }, request }) => {
		await removeWay(app, viewer, String((await readForm(request)).get('id') ?? ''));
		return { saved: 'This way of watching is gone. What had it plays in the usual one.' };
	}
};
