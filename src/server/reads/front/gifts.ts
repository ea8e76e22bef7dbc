/** What members see of gifts: those for them, and those that they gave. */
import type { PlanAccess } from '$core/billing/plan-access';
import { giftById, giftsBy, giftsFor } from '../../db/queries/gifts';
import { accountById } from '../../db/queries/members';
import type { Using } from '../../app';
import type { Look, Looking } from '../../rights/look';
import { listFor, type ListEntry } from './lists';

export type GiftPage =
	| {
			kind: 'waits' | 'given-back';
			plan: string;
			giver: string;
			words: string;
			access: PlanAccess;
			items: ListEntry[];
	  }
	/** It is theirs already. */
	| { kind: 'opened'; planId: string }
	/** `unproved`: it may be theirs, once they have shown that the mailbox is. Nobody else learns whether there is one. */
	| { kind: 'not-here' | 'unproved' };

export async function giftPage(app: Looking, look: Look, memberId: string, id: string): Promise<GiftPage> {
	const account = await accountById(app.db, memberId);
	if (!account) return { kind: 'not-here' };
	const gift = await giftById(app.db, id);
	if (gift?.memberId === memberId) return { kind: 'opened', planId: gift.planId };
	// Said of whatever gift they ask for.
	if (account.provedAt === null) return { kind: 'unproved' };
	const isTheirs = gift?.memberId === null && gift.email !== null && gift.email === account.email;
	if (!isTheirs || (gift.state !== 'told' && gift.state !== 'given-back')) return { kind: 'not-here' };
	const { planId, planName: plan, words, access } = gift;
	const giver = gift.giverName || (await app.site()).siteName;
	const opens = (resourceId: string) => {
		const resource = look.policy.resources.get(resourceId);
		return resource ? look.policy.passage(resource).ways.some((way) => way.plans?.has(planId)) : false;
	};
	const items = await listFor(app, look, (item) => item.address !== null && opens(item.id));
	return { kind: gift.state === 'told' ? 'waits' : 'given-back', plan, giver, words, access, items };
}

/** For the account. What waits for a mailbox is told to whoever has proved it. */
export async function giftsOf(app: Using<'db' | 'site'>, memberId: string) {
	const { siteName } = await app.site();
	const account = await accountById(app.db, memberId);
	const isProved = account?.provedAt != null && account.email !== null;
	const waiting = isProved && account.email !== null ? await giftsFor(app.db, account.email) : [];
	return {
		waiting: waiting.map(({ id, planName: plan, giverName: giver }) => ({
			id,
			plan,
			giver: giver || siteName
		})),
		gave: (await giftsBy(app.db, memberId)).map((gift) => ({
			...{ id: gift.id, plan: gift.planName, email: gift.email ?? '', state: gift.state },
			/** The day that its state speaks of. */
			at: gift.openedAt ?? gift.toldAt ?? gift.tellAt
		}))
	};
}
