import { error, fail } from '@sveltejs/kit';
import { assetOfItem, itemById, preparationOf } from '$server/db/queries/library';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { fieldError, parse } from '$server/http/parse';
import { editItem, prepareAgain, setPublished } from '$server/usecases/library/edit-item';
import type { Actions, PageServerLoad } from './$types';
import { ItemForm } from './form';

const PROBLEMS = {
	unknown: 'This item does not exist any more.',
	'bad-address': 'This address cannot be used. Write a path such as /videos/truing-a-wheel.',
	'reserved-address': 'This address belongs to Stile itself. Begin it with another word.',
	'taken-address': 'Another item has this address. Choose one of its own.',
	'not-ready': 'It can be published as soon as it is prepared.'
};

export const load: PageServerLoad = async ({ locals: { app }, params }) => {
	const item = await itemById(app.db, params.id);
	if (!item) error(404, NO_SUCH_PAGE);
	const asset = await assetOfItem(app.db, item.id);
	const compiled = (await app.rights.policy()).items.get(item.id);
	const stranger = await app.rights.decide(null, item.id);
	return {
		item,
		asset: asset && {
			fileName: asset.fileName,
			bytes: asset.bytes,
			seconds: asset.seconds,
			width: asset.width,
			height: asset.height,
			hasSound: asset.hasSound,
			state: asset.state,
			problem: asset.problem,
			pictures:
				asset.stream?.variants.filter((v) => v.kind === 'video').map((v) => `${v.width} × ${v.height}`) ?? []
		},
		job: asset && (await preparationOf(app.db, asset.id)),
		fences: [...(compiled?.fences ?? []), ...(compiled?.passedOver ?? [])].map(({ id, name, isOn }) => ({
			id,
			name,
			isOn
		})),
		stranger: stranger.verdict
	};
};

export const actions: Actions = {
	save: async ({ locals: { app, viewer }, request, params }) => {
		const form = await request.formData();
		const parsed = await parse(ItemForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const { showsPoster, ...rest } = parsed.data;
		const edited = await editItem(app, viewer, params.id, { ...rest, showsPoster: showsPoster === 'yes' });
		if (!edited.ok) return fail(409, fieldError(form, 'address', PROBLEMS[edited.code]));
		return { saved: 'Saved.' };
	},
	publish: async ({ locals: { app, viewer }, request, params }) => {
		const form = await request.formData();
		const published = await setPublished(app, viewer, params.id, form.get('to') === 'published');
		if (!published.ok) return fail(409, fieldError(form, 'title', PROBLEMS[published.code]));
		return { saved: form.get('to') === 'published' ? 'Published.' : 'Taken back to a draft.' };
	},
	again: async ({ locals: { app, viewer }, params }) => {
		await prepareAgain(app, viewer, params.id);
		return { saved: 'It is prepared again.' };
	}
};
