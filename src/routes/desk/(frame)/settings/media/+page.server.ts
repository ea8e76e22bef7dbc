import { fail } from '@sveltejs/kit';
import { DEFAULT_PRESET, readPreset } from '$core/media/preset';
import { playerPresets } from '$server/reads/desk/settings';
import { readDeterrents } from '$server/http/read-deterrents';
import {
	presetRevision,
	removePreset,
	saveDeterrents,
	savePreset
} from '$server/usecases/running/save-media-settings';
import { revisionOf } from '$server/revision';
import { begunWith, readForm } from '$server/http/parse';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app } }) => ({
	deterrents: (await app.site()).deterrents,
	revision: revisionOf((await app.site()).deterrents),
	presets: (await playerPresets(app)).map((own) => ({ ...own, revision: presetRevision(own) })),
	fresh: DEFAULT_PRESET
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
	preset: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const id = String(form.get('id') ?? '') || null;
		const name = String(form.get('name') ?? '').trim();
		if (name === '' || name.length > 80)
			return fail(400, {
				presetId: id,
				errors: { name: ['Give the preset a name of at most 80 characters.'] }
			});
		const preset = readPreset({
			accent: form.get('hasAccent') === 'yes' ? form.get('accent') : null,
			controls: form.getAll('controls'),
			speeds: form.getAll('speeds'),
			seeking: form.get('seeking'),
			isFolded: form.get('isFolded') === 'yes',
			startsMuted: form.get('startsMuted') === 'yes'
		});
		if (!preset) return fail(400, { presetId: id, errors: { accent: ['Choose a colour such as #2c6650.'] } });
		const wish = { id, name, isDefault: form.get('isDefault') === 'yes', preset };
		const saved = await savePreset(app, viewer, wish, begunWith(form));
		if (saved.kind === 'changed') {
			const { theirs } = saved;
			const words = `“${theirs.name}”, speeds ${theirs.preset.speeds.join(', ')}.`;
			return fail(409, { presetId: id, theirPreset: { revision: presetRevision(theirs), words } });
		}
		return { saved: `Saved: ${name}.` };
	},
	remove: async ({ locals: { app, viewer }, request }) => {
		await removePreset(app, viewer, String((await readForm(request)).get('id') ?? ''));
		return { saved: 'The preset is gone. What had it plays with the default one.' };
	}
};
