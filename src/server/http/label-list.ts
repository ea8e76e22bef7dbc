/** The list of a category or a tag, for its page on the front. */
import { error } from '@sveltejs/kit';
import type { Resource } from '$core/access/model';
import type { Category } from '../db/queries/library';
import { NO_SUCH_PAGE } from './denial';
import { listFor } from './lists';
import { splitOtherSide } from './look';
import { denialOf } from './pass';

export async function labelList(
	locals: App.Locals,
	url: URL,
	label: Category | undefined,
	carries: (resource: Resource, labelId: string) => boolean
) {
	if (!label) error(404, NO_SUCH_PAGE);
	const { app, look } = locals;
	const denial = await denialOf(locals, splitOtherSide(url.pathname).path);
	const isIn = (id: string) => {
		const resource = look.policy.resources.get(id);
		return resource !== undefined && carries(resource, label.id);
	};
	const items = denial ? [] : await listFor(app, look, (item) => item.address !== null && isIn(item.id));
	return { name: label.name, denial, items };
}
