/** What is done every hour: reconciliation, and forgetting what nobody needs. */
import { lt } from 'drizzle-orm';
import type { App } from '../app';
import { rightsChanges, rightsCounter } from '../db/schema/access';
import { sessions, signInLinks } from '../db/schema/people';
import { forgetOldWindows } from '../http/rate-limit';
import { forgetUnfinished } from '../http/uploads';
import { CHANGES_KEPT } from '../rights/rights';
import { reconcile } from '../usecases/sales/reconcile';
import { forgetDone } from './queue';

const HOUR_MS = 3_600_000;
const DONE_KEPT_MS = 7 * 24 * HOUR_MS;
const SPENT_LINKS_KEPT_MS = 30 * 24 * HOUR_MS;

/** Starts the hourly round; the function it gives ends it. */
export function startHousekeeping(app: App): () => void {
	const timer = setInterval(() => {
		round(app).catch((error: unknown) => app.log.warn({ err: error }, 'housekeeping failed'));
	}, HOUR_MS);
	return () => clearInterval(timer);
}

async function round(app: App): Promise<void> {
	const wallNow = app.clock.wall();
	await reconcile(app);
	await forgetOldWindows(app);
	await forgetDone(app.db, wallNow - DONE_KEPT_MS);
	await app.db.delete(sessions).where(lt(sessions.expiresAt, wallNow));
	await app.db.delete(signInLinks).where(lt(signInLinks.expiresAt, wallNow - SPENT_LINKS_KEPT_MS));
	const [counter] = await app.db.select().from(rightsCounter);
	if (counter)
		await app.db.delete(rightsChanges).where(lt(rightsChanges.value, counter.value - CHANGES_KEPT));
	await forgetUnfinished(app);
}
