/** Members as the Desk lists them, and one of them with all that is theirs. */
import { VERDICTS, type Verdict } from '$core/access/decision';
import type { Member } from '$core/access/model';
import { changesFor } from '$core/access/next-changes';
import type { Policy } from '$core/access/policy';
import { assuming } from '$core/access/timeline';
import type { Using } from '../../app';
import { memberList, PAGE_SIZE, type ListAsk } from '../../db/queries/lists';
import { accountByEmail, accountById, accountNames, tenuresOf } from '../../db/queries/members';
import { paymentsOf, subscriptionsOf } from '../../db/queries/sales';
import { linksThatGoRound } from '../../db/queries/uses';
import { fileUses } from '../../rights/file-uses';
import { asOf } from './as-of';
import { itemsOfMember } from './check';
import { pageOf } from './page-of';

const ITEMS_ON_PAGE = 100;
const NEXT = 12;
const FILES_SHOWN = 50;

export async function membersPage(app: Using<'db'>, ask: ListAsk) {
	return { ...(await memberList(app.db, ask)), pageSize: PAGE_SIZE };
}

/** What accounts are called, by id. */
export function memberNames(app: Using<'db'>, ids: readonly string[]): Promise<Map<string, string>> {
	return accountNames(app.db, ids);
}

/** The id of whoever has an address; `null`: nobody has. */
export async function memberByEmail(app: Using<'db'>, email: string): Promise<string | null> {
	return (await accountByEmail(app.db, email))?.id ?? null;
}

/** One member with what is open to them at the moment of the rail; `null`: there is no such member. */
export async function memberPage(app: Using<'clock' | 'db' | 'rights'>, id: string, url: URL) {
	const account = await accountById(app.db, id);
	const standing = await app.rights.standing(id);
	if (!account || !standing) return null;
	const { moment, policy, asThen } = await asOf(app, url);
	const held = asThen(standing.viewer);
	const viewer = moment.at > moment.now ? assuming(held, moment.assume) : held;
	const everything = await itemsOfMember(app, policy, viewer as Member, moment.at);
	const ids = everything.map((one) => one.id);
	const state = VERDICTS.find((one) => one === url.searchParams.get('state')) ?? null;
	const changes = changesFor(policy, held, ids, moment.from, moment.to, moment.assume);
	return {
		member: { id: account.id, name: account.name, email: account.email, createdAt: account.createdAt },
		moment,
		marks: [...new Set(changes.map(({ at }) => at))],
		next: changes.filter(({ at }) => at > moment.at).slice(0, NEXT),
		items: pageOf(everything, state, url, ITEMS_ON_PAGE),
		files: await countedFiles(app, policy, account.id, everything),
		links: await linksThatGoRound(app.db, account.id),
		grants: standing.viewer.grants,
		tenures: await tenuresOf(app.db, account.id),
		subscriptions: (await subscriptionsOf(app.db, account.id)).map(
			({ id, planId, state, endedAt, cancelWhy, cancelWords }) => ({
				id,
				planId,
				state,
				endedAt,
				cancelWhy,
				cancelWords
			})
		),
		payments: (await paymentsOf(app.db, account.id)).map(
			({ id, orderId, state, amountMinor, currency, createdAt, receipt }) => ({
				id,
				orderId,
				state,
				amountMinor,
				currency,
				at: createdAt,
				receipt
			})
		)
	};
}

/** Files whose savings are counted for the member, and how many are left. */
async function countedFiles(
	app: Using<'clock' | 'db' | 'rights'>,
	policy: Policy,
	memberId: string,
	decided: readonly { id: string; verdict: Verdict }[]
) {
	const files = decided.filter(({ id, verdict }) => {
		const resource = policy.resources.get(id);
		const isLimited = resource && policy.passage(resource).ways.some(({ limits }) => limits !== null);
		return isLimited && resource.kind === 'file' && (verdict === 'open' || verdict === 'used-up');
	});
	const counted = await Promise.all(
		files.slice(0, FILES_SHOWN).map(async ({ id }) => ({ id, uses: await fileUses(app, memberId, id) }))
	);
	return counted.flatMap(({ id, uses }) => (uses ? [{ id, ...uses }] : []));
}
