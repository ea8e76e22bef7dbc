/** A Stile of its own with one protected video, one plan and one paying member, made through the use cases. */
import { renewingTerms } from '../../src/core/billing/terms';
import { execFileSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { appendFileSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { compose } from '../../src/server/compose';
import { accountByEmail } from '../../src/server/db/queries/members';
import { beginSession, newToken } from '../../src/server/people/sessions';
import { sessionCookie } from '../../src/server/http/cookies';
import { readSettings } from '../../src/server/settings';
import { transact } from '../../src/server/transact';
import { makeFirstOwner, offerOwnership } from '../../src/server/usecases/accounts/first-owner';
import { saveFence } from '../../src/server/usecases/fences/save-fence';
import { NO_LIMITS } from '../../src/core/access/model';
import { agreeing } from '../../src/server/usecases/access/rehearsed-save';
import { setState } from '../../src/server/usecases/library/edit-item';
import { receiveFile } from '../../src/server/usecases/library/receive-file';
import { createPlan, SOLD_HERE } from '../../src/server/usecases/plans/save-plan';
import { beginOrder } from '../../src/server/usecases/sales/begin-order';
import { settleReturn } from '../../src/server/usecases/sales/look-at-order';

const BUYER = 'wren.alder@mail.example';

/**
 * @param fileBytes with a file of this size, too, at `/files/drawings`
 * @returns the cookie of the signed-in member
 */
export async function makeShop(
	settings: Record<string, string>,
	folder: string,
	fileBytes = 0
): Promise<string> {
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
		const plan = {
			name: 'Workshop',
			lines: [],
			priceName: '',
			payBy: null,
			code: '',
			...{ country: '', taxId: '' },
			seenMinor: null,
			note: '',
			lessFor: null,
			isOpenAtOnce: true,
			...SOLD_HERE,
			terms: renewingTerms({ minor: 900, currency: 'EUR' }, { count: 1, unit: 'month' }),
			access: { kind: 'while-paid' as const },
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
		await closeAndPublish(app, received.itemId, planId);
		if (fileBytes > 0) {
			const file = await receiveFile(app, null, { path: noise(folder, fileBytes), name: 'drawings.bin' });
			if (!file.ok) throw new Error(file.problem.code);
			await closeAndPublish(app, file.itemId, planId);
		}
		await buy(app);
		const member = await accountByEmail(app.db, BUYER);
		if (!member) throw new Error('The member was not made');
		const session = await transact(app, null, (work) => beginSession(work, member.id, 'password'));
		return `${sessionCookie(app)}=${session.token}`;
	} finally {
		await stile.stop();
	}
}

type App = Awaited<ReturnType<typeof compose>>['app'];

async function closeAndPublish(app: App, itemId: string, planId: string): Promise<void> {
	const audience = { kind: 'holders' as const, planIds: [planId] };
	await agreeing((agreedTo) =>
		saveFence(app, null, {
			fenceId: null,
			revision: 1,
			agreedTo,
			wish: {
				name: 'Closed',
				isOn: true,
				mode: 'replaces',
				selector: { kind: 'items', itemIds: [itemId] },
				crossings: [{ audience, window: null, limits: { ...NO_LIMITS, uses: 'site' }, isThroughout: false }],
				turnAway: null,
				listing: 'shown'
			}
		})
	);
	await agreeing((agreedTo) =>
		setState(app, null, itemId, { state: 'published', publishAt: null }, agreedTo)
	);
}

/** Bytes that do not compress, so that nothing in between can cheat. */
function noise(folder: string, bytes: number): string {
	const path = join(folder, 'drawings.bin');
	const block = randomBytes(1 << 20);
	writeFileSync(path, '');
	for (let written = 0; written < bytes; written += block.length)
		appendFileSync(path, block.subarray(0, Math.min(block.length, bytes - written)));
	return path;
}

function film(folder: string): string {
	mkdirSync(folder, { recursive: true });
	const path = join(folder, 'wheel.mp4');
	const picture = ['-f', 'lavfi', '-i', 'testsrc2=size=640x360:rate=15:duration=20'];
	const tone = ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=20'];
	execFileSync('ffmpeg', ['-v', 'error', '-y', ...picture, ...tone, '-pix_fmt', 'yuv420p', path]);
	return path;
}

async function buy(app: App): Promise<void> {
	const deviceToken = newToken();
	const begun = await beginOrder(app, {
		planSlug: 'workshop',
		priceId: null,
		payBy: null,
		code: '',
		...{ country: '', taxId: '' },
		seenMinor: null,
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
