/** The one way in which an account of a member comes to be, with what every new account is given. */
import { and, eq, lte } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { accessEnd } from '$core/billing/plan-access';
import { siteSettings } from '../../db/queries/settings';
import { accounts } from '../../db/schema/people';
import { plans } from '../../db/schema/sales';
import type { Work } from '../../transact';
import { grantTo } from '../access/granting';

export interface NewAccount {
	email: string;
	/** Empty: none was said. */
	name: string;
	/** Whether its owner has typed the name. */
	isNameTyped?: boolean;
}

/** @returns its id; `null`: somebody has the address, by now at the latest */
export async function makeAccount(
	work: Work,
	{ email, name, isNameTyped = false }: NewAccount
): Promise<string | null> {
	const { tx, now } = work;
	const id = uuidv7();
	const [written] = await tx
		.insert(accounts)
		.ignore()
		.values({ id, email, name: name || email, isNameTyped, role: 'member', createdAt: now });
	if (written.affectedRows !== 1) return null;
	await welcome(work, id);
	work.standingChanged(id);
	return id;
}

/** What every account is given that is made now. What has ended for everybody by now is given to nobody. */
async function welcome(work: Work, memberId: string): Promise<void> {
	const { tx, now } = work;
	const given = await tx
		.select({ id: plans.id, access: plans.access })
		.from(plans)
		.where(and(lte(plans.givenFrom, now), eq(plans.isLabel, false)))
		.orderBy(plans.id);
	if (given.length === 0) return;
	const { zone } = await siteSettings(tx);
	await grantTo(
		work,
		given
			.map(({ id: planId, access }) => ({ planId, until: accessEnd(access, now, zone) }))
			.filter(({ until }) => until === null || until > now)
			.map(({ planId, until }) => ({
				...{ memberId, planId, from: now, until },
				...{ source: 'sign-up' as const, by: 'sign-up' }
			}))
	);
}
