import { and, eq } from 'drizzle-orm';
import type { Using } from '../../app';
import type { Payment, Plan } from '../../db/queries/sales';
import { payments } from '../../db/schema/sales';

/** How long somebody may stand on a page of the processor. */
export const PAY_PAGE_LIVES_MS = 24 * 3_600_000;

/** The processor's page for a payment; where nothing is paid at first, on which a card is kept. Asking twice gives the same one: the key is the payment's. */
export async function payPage(
	app: Using<'clock' | 'db' | 'processors' | 'settings' | 'site'>,
	payment: Payment,
	{ plan, returnPath }: { plan: PaidFor; returnPath: string }
): Promise<string> {
	if (payment.payUrl) return payment.payUrl;
	const { idempotencyKey: key, amountMinor: minor, currency } = payment;
	const processor = app.processors[payment.processor];
	const page = await pageOf(app, plan, returnPath);
	const { ref, payUrl } =
		minor === 0 && processor.vault
			? await processor.vault.openSession({ key, ...page })
			: await processor.openSession({ key, amount: { minor, currency }, ...page });
	await app.db
		.update(payments)
		.set({ processorRef: ref, payUrl })
		.where(and(eq(payments.id, payment.id), eq(payments.state, 'pending')));
	return payUrl;
}

/** What is paid for: what it is called, and how its seller stands on card statements where that is not as the site. */
export type PaidFor = Pick<Plan, 'name' | 'statementName'> | null;

/** What every page of the processor says, and where it leads back to. */
export async function pageOf(app: Using<'clock' | 'settings' | 'site'>, plan: PaidFor, returnPath: string) {
	const { siteName, statementName } = await app.site();
	return {
		text: plan ? `${plan.name} · ${siteName}` : siteName,
		statementName: plan?.statementName ?? statementName,
		returnUrl: `${app.settings.origin}${returnPath}`,
		expiresAt: app.clock.wall() + PAY_PAGE_LIVES_MS
	};
}
