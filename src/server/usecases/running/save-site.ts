import type { Actor, App } from '../../app';
import { settings, type SiteSettings } from '../../db/schema/running';
import { transact } from '../../transact';

const SITE = { kind: 'site', id: '00000000-0000-7000-8000-000000000002' };

export async function saveSite(app: App, actor: Actor, value: SiteSettings): Promise<void> {
	const before = await app.site();
	await transact(app, actor, async (work) => {
		await work.tx.update(settings).set({ value });
		await work.note({ action: 'saved-site', subject: SITE, before, after: value });
		work.policyChanged('site settings');
	});
}
