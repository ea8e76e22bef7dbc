import { fail } from '@sveltejs/kit';
import { DEFAULT_PRESET, readPreset } from '$core/media/preset';
import { allPresets } from '$server/db/queries/library';
import { readDeterrents } from '$server/http/read-deterrents';
import { removePreset, saveDeterrents, savePreset } from '$server/usecases/running/save-media-settings';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app } }) => ({
	deterrents: (await app.site()).deterrents,
	presets: await allPresets(app.db),
	fresh: DEFAULT_PRESET
});

export const actions: Actions = {
	deterrents: async ({ locals: { app, viewer }, request }) => {
		const read = readDeterrents(await request.formData());
		if (!read.ok) return fail(400, { errors: read.errors });
		await saveDeterrents(app, viewer, read.value);
		return { saved: 'Saved. It counts from now on.' };
	},
	preset: async ({ locals: { app, viewer }, request }) => {
		const form = await request.formData();
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
		await savePreset(app, viewer, { id, name, isDefault: form.get('isDefault') === 'yes', preset });
		return { saved: `Saved: ${name}.` };
	},
	remove: async ({ locals: { app, viewer }, request }) => {
		await removePreset(app, viewer, String((await request.formData()).get('id') ?? ''));
		return { saved: 'The preset is gone. What had it plays with the default one.' };
	}
};
