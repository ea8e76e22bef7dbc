/** What there is today: of all of it, each sees what they may do something about. */
import { mayAny, type Permission, type Permissions } from '$core/staff/permissions';
import type { Using } from '../../app';
import { preparations, recentEvents, stepsDone, troubledJobs, waitingForYes } from '../../db/queries/today';
import { openDisputes } from './disputes';

const EVENTS_SHOWN = 15;

/** Jobs of the Library; all others are about members and money. */
const TROUBLE_NEEDS: Record<string, readonly Permission[]> = {
	prepare: ['library'],
	'take-in': ['library']
};

export async function today(app: Using<'clock' | 'db'>, held: Permissions) {
	const isOwn = (kind: string) => mayAny(held, TROUBLE_NEEDS[kind] ?? ['members', 'sales']);
	const hasLibrary = held.has('library');
	const [steps, preparing, asking, troubles, disputes, events] = await Promise.all([
		mayAny(held, ['library', 'plans', 'fences']) ? stepsDone(app.db) : null,
		hasLibrary ? preparations(app.db) : [],
		hasLibrary ? waitingForYes(app.db) : [],
		troubledJobs(app.db),
		held.has('sales') ? openDisputes(app) : [],
		held.has('members') ? recentEvents(app.db, EVENTS_SHOWN) : []
	]);
	return {
		may: { library: hasLibrary, members: held.has('members') },
		steps,
		preparations: preparing,
		asking,
		troubles: troubles.filter(({ kind }) => isOwn(kind)),
		disputes,
		events
	};
}
