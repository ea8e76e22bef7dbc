/** A Stile of its own with one protected video, one plan and one paying member, made through the use cases. */
import { execFileSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { compose } from '../../src/server/compose';
import { accountByEmail } from '../../src/server/db/queries/members';
import { beginSession, newToken, sessionCookie } from '../../src/server/http/sessions';
import { readSettings } from '../../src/server/settings';
import { transact } from '../../src/server/transact';
import { makeFirstOwner, offerOwnership } from '../../src/server/usecases/accounts/first-owner';
import { saveFence } from '../../src/server/usecases/fences/save-fence';
import { NO_LIMITS } from '../../src/core/access/model';
import { agreeing } from '../../src/server/usecases/access/rehearsed-save';
import { setState } from '../../src/server/usecases/library/edit-item';
import { receiveFile } from '../../src/server/usecases/library/receive-file';
import { createPlan } from '../../src/server/usecases/plans/save-plan';
import { beginOrder } from '../../src/server/usecases/sales/begin-order';
import { settleReturn } from '../../src/server/usecases/sales/look-at-order';

const BUYER = 'wren.alder@mail.example';

/** @returns the cookie of the signed-in member */
export async function makeShop(settings: Record<string, string>, folder: string): Promise<string> {
	const stile = await compose(readSettings({ ...settings, STILE_LOG_LEVEL: 'error' }));
	const { app } = stile;
	try {
		const token = (await offerOwnership(app)) ?? '';
		await makeFirstOwner(app, {
			token,
			email: 'ottilie@fernhollow.example',
			name: 'Ottilie Fern',
			password: 'gear train of four',
			siteName: 'Fernhollow Clock School',
			zone: 'Europe/Vienna',
			currency: 'EUR'
		});
		const price = { minor: 900, currency: 'EUR' };
		const plan = {
			name: 'Workshop',
			lines: [],
			price,
			unit: 'month' as const,
			isPublic: true,
			isOnSale: true,
			afterLapse: 'on' as const,
			ladder: null,
			rung: 1
		};
		const planId = await createPlan(app, null, plan);
		const received = await receiveFile(app, null, { path: film(folder), name: 'wheel.mp4' });
		if (!received.ok) throw new Error(received.problem.code);
		await stile.runner.runDue('media');
		await agreeing((agreedTo) =>
			saveFence(app, null, {
				fenceId: null,
				revision: 1,
				agreedTo,
				wish: {
					name: 'Wheel',
					isOn: true,
					mode: 'replaces',
					selector: { kind: 'items', itemIds: [received.itemId] },
					crossings: [
						{
							audience: { kind: 'holders', planIds: [planId] },
							window: null,
							limits: NO_LIMITS,
							isThroughout: false
						}
					],
					turnAway: null,
					listing: 'shown'
				}
			})
		);
		await agreeing((agreedTo) =>
			setState(app, null, received.itemId, { state: 'published', publishAt: null }, agreedTo)
		);
		await buy(app);
		const member = await accountByEmail(app.db, BUYER);
		if (!member) throw new Error('The member was not made');
		const session = await transact(app, null, (work) => beginSession(app, work, member.id));
		return `${sessionCookie(app.settings.origin)}=${session.token}`;
	} finally {
		await stile.stop();
	}
}

function film(folder: string): string {
	mkdirSync(folder, { recursive: true });
	const path = join(folder, 'wheel.mp4');
	const picture = ['-f', 'lavfi', '-i', 'testsrc2=size=640x360:rate=15:duration=20'];
	const tone = ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=20'];
	execFileSync('ffmpeg', ['-v', 'error', '-y', ...picture, ...tone, '-pix_fmt', 'yuv420p', path]);
	return path;
}

async function buy(app: Awaited<ReturnType<typeof compose>>['app']): Promise<void> {
	const deviceToken = newToken();
	const begun = await beginOrder(app, {
		planSlug: 'workshop',
		memberId: null,
		email: BUYER,
		name: 'Wren Alder',
		password: '',
		deviceToken,
		next: null,
		client: 'bench'
	});
	if (!begun.ok) throw new Error(begun.code);
	const body = new URLSearchParams({ card: 'works' });
	await fetch(begun.payUrl, { method: 'POST', body, redirect: 'manual' });
	await settleReturn(app, begun.orderId, deviceToken, null);
}
