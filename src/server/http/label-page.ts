/** The page of a category or a tag on the front. */
import { error } from '@sveltejs/kit';
import { labelOf, type LabelKind } from '../reads/front/label-list';
import { NO_OTHER_WAYS, offersAtPlace, otherWaysAt, withWaysIn } from '../reads/front/offers';
import { NO_SUCH_PAGE } from './denial';
import { denialOf } from './pass';

export async function labelPage(locals: App.Locals, kind: LabelKind, slug: string) {
	const { app, look, path } = locals;
	const label = await labelOf(app, look, kind, slug);
	if (!label) error(404, NO_SUCH_PAGE);
	const denial = await denialOf(locals, path);
	return {
		name: label.name,
		denial,
		items: denial ? [] : await withWaysIn(app, look, label.items),
		offers: denial ? await offersAtPlace(app, look, path, path) : [],
		otherWays: denial ? await otherWaysAt(app, look, path) : NO_OTHER_WAYS
	};
}
