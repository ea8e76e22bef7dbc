import { eq } from 'drizzle-orm';
import { USUAL_COLLECTING } from '$core/billing/agreement-facts';
import { NO_TAX } from '$core/billing/tax';
import { NO_LEGAL_LINKS } from '$core/looks/legal';
import { NO_DETERRENTS } from '$core/media/deterrents';
import type { Handle, Tx } from '../connect';
import { settings, type SiteSettings } from '../schema/running';

const OWN_LOOKS = { colour: null };
const OFFLINE = { name: '', how: '' };
const SELLER = { name: '', address: '', taxNumber: '' };

export async function siteSettings(db: Handle): Promise<SiteSettings> {
	const [row] = await db.select().from(settings).where(eq(settings.id, 1));
	if (!row) throw new Error('The settings are missing: run the migrations');
	// Settings of an older version know nothing of what came later.
	const known: Partial<SiteSettings> = row.value;
	const { language = 'en', collecting = USUAL_COLLECTING, looks = OWN_LOOKS, mayPause = false } = known;
	const { remindsAfterHours = null } = known;
	const {
		payBy = ['card'],
		offline = OFFLINE,
		legal = NO_LEGAL_LINKS,
		seller = SELLER,
		tax = NO_TAX,
		staffNeedCode = false
	} = known;
	const deterrents = { ...NO_DETERRENTS, ...known.deterrents };
	const later = { payBy, offline, legal, seller, tax, deterrents, staffNeedCode };
	return { ...row.value, language, collecting, looks, mayPause, remindsAfterHours, ...later };
}

/** Until the transaction ends, nobody else changes what belongs to the site as a whole: its settings, its outermost shelves. */
export async function lockSite(tx: Tx): Promise<void> {
	await tx.select({ id: settings.id }).from(settings).where(eq(settings.id, 1)).for('update');
}

/** Changes a part and leaves the others as they are by now, whoever saves them at the same moment. Gives what was there. */
export async function changeSettings(
	tx: Tx,
	change: (before: SiteSettings) => Partial<SiteSettings>
): Promise<SiteSettings> {
	await lockSite(tx);
	const before = await siteSettings(tx);
	await tx
		.update(settings)
		.set({ value: { ...before, ...change(before) } })
		.where(eq(settings.id, 1));
	return before;
}
