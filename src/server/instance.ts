/**
 * The one running Stile of this process. The kit's hooks make it; server.mjs, outside the bundle, finds it under the same
 * symbol.
 */
import { ALL_PERMISSIONS } from '$core/staff/permissions';
import { compose, type Stile } from './compose';
import { createFront, type Front, type Serving } from './http/front';
import { readSettings } from './settings';
import { deskNames } from './reads/desk/names';
import { today } from './reads/desk/today';
import { warm } from './rights/warm';
import { offerOwnership } from './usecases/accounts/first-owner';

export interface Running extends Stile {
	front: Front & Serving;
	/** Before the last connections are waited for. */
	endWatches(): void;
}

const KEY = Symbol.for('stile.running');
const place = globalThis as { [KEY]?: Running };

export async function startStile(env: Record<string, string | undefined>): Promise<Running> {
	const stile = await compose(readSettings(env));
	// Where it fails, whoever asks first works it out.
	await warm(stile.app).catch(() => {});
	// Today is what one sees first: what looks wrong, who held what, and what all of it is called.
	await today(stile.app, ALL_PERMISSIONS).catch(() => {});
	await deskNames(stile.app).catch(() => {});
	const front = createFront(stile);
	const running = { ...stile, front, endWatches: front.endWatches };
	place[KEY] = running;
	const token = await offerOwnership(stile.app);
	if (token) {
		const url = `${stile.app.settings.origin}/desk/first-owner?token=${token}`;
		stile.app.log.warn({ url }, 'there is no owner yet: open this address once to become the owner');
	}
	stile.startJobs(() => front.receiveLeft());
	return running;
}

export function running(): Running {
	const found = place[KEY];
	if (!found) throw new Error('Stile has not been started');
	return found;
}
