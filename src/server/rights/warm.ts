/** What the first page after a start would have to work out, worked out before somebody asks. */
import { each } from '$core/pieces';
import type { Using } from '../app';
import { inPieces } from '../in-pieces';
import { shownInside, shownLibrary, shownPlans } from './shown';

/** Places walked without a pause. */
const AT_ONCE = 500;

export async function warm(app: Using<'db' | 'population' | 'rights'>): Promise<void> {
	const policy = await app.rights.policy();
	await inPieces(
		each(policy.resources.values(), AT_ONCE, (resource) => {
			policy.passage(resource);
		})
	);
	await shownPlans(app);
	await shownLibrary(app);
	await shownInside(app);
	await app.population.all();
}
