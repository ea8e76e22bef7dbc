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
	return {
		may: { library: hasLibrary, members: held.has('members') },
		steps: mayAny(held, ['library', 'plans', 'fences']) ? await stepsDone(app.db) : null,
		preparations: hasLibrary ? await preparations(app.db) : [],
		asking: hasLibrary ? await waitingForYes(app.db) : [],
		troubles: (await troubledJobs(app.db)).filter(({ kind }) => isOwn(kind)),
		disputes: held.has('sales') ? await openDisputes(app) : [],
		events: held.has('members') ? await recentEvents(app.db, EVENTS_SHOWN) : []
	};
}
