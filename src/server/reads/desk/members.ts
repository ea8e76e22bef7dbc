/** Members as the Desk lists them, and one of them with all that is theirs. */
import { factorOf } from '../../db/queries/second-factors';
import { mailsTo, whyAddressHeld } from '../../db/queries/sent-mails';
import { standingOf } from '$core/billing/payment';
import { VERDICTS, type Verdict } from '$core/access/decision';
import type { Member } from '$core/access/model';
import { changesFor } from '$core/access/next-changes';
import { totalsOf } from '$core/access/totals';
import type { Policy } from '$core/access/policy';
import { assuming } from '$core/access/timeline';
import { languageOf } from '$words/languages';
import type { Using } from '../../app';
import { PAGE_SIZE } from '../../db/queries/lists';
import {
	allLabels,
	countedLabels,
	memberIds,
	memberList,
	memberRows,
	type MemberAsk
} from '../../db/queries/member-list';
import { accountByEmail, accountById, accountNames, tenuresOf } from '../../db/queries/members';
import { agreementsWithOrders } from '../../db/queries/agreements';
import { askedOffline, paymentsOf, waitingOrders } from '../../db/queries/sales';
import { linksThatGoRound } from '../../db/queries/uses';
import { fileUses } from '../../rights/file-uses';
import { asOf } from './as-of';
import { itemsOfMember } from './check';
import { pageOf } from './page-of';

const ITEMS_ON_PAGE = 100;
const NEXT = 12;
const FILES_SHOWN = 50;

export { MEMBER_STATES, type MemberAsk } from '../../db/queries/member-list';

export async function membersPage(app: Using<'clock' | 'db' | 'population' | 'rights'>, ask: MemberAsk) {
	const now = app.clock.business();
	const labels = await labelIds(app);
	return {
		...(await memberList(app.db, ask, now)),
		pageSize: PAGE_SIZE,
		totals: totalsOf((await app.population.all()).values(), labels, now)
	};
}

/** Labels on members, by name. */
export function labelNames(app: Using<'db' | 'rights'>): Promise<{ id: string; name: string }[]> {
	return app.rights.content('labels', () => allLabels(app.db));
}

async function labelIds(app: Using<'db' | 'rights'>): Promise<Set<string>> {
	return new Set((await labelNames(app)).map(({ id }) => id));
}

/** Some members as a table has them. */
export function membersAsTable(app: Using<'clock' | 'db'>, ids: readonly string[]) {
	return memberRows(app.db, ids, app.clock.business());
}

/** Whom a list is of. */
export function idsOf(app: Using<'clock' | 'db'>, ask: MemberAsk): Promise<string[]> {
	return memberIds(app.db, ask, app.clock.business());
}

/** Labels with how many members have each. */
export function labelsPage(app: Using<'clock' | 'db'>) {
	return countedLabels(app.db, app.clock.business());
}

/** What accounts are called, by id. */
export function memberNames(app: Using<'db'>, ids: readonly string[]): Promise<Map<string, string>> {
	return accountNames(app.db, ids);
}

/** The id of whoever has an address; `null`: nobody has. */
export async function memberByEmail(app: Using<'db'>, email: string): Promise<string | null> {
	return (await accountByEmail(app.db, email))?.id ?? null;
}

/** The latest mails to a member. */
const MAILS_SHOWN = 8;

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
		member: {
			...{ id: account.id, name: account.name, email: account.email, createdAt: account.createdAt },
			reads: account.language && languageOf(account.language).name,
			isMember: account.role === 'member',
			hasCode: (await factorOf(app.db, account.id)) !== null
		},
		moment,
		marks: [...new Set(changes.map(({ at }) => at))],
		next: changes.filter(({ at }) => at > moment.at).slice(0, NEXT),
		items: pageOf(everything, state, url, ITEMS_ON_PAGE),
		files: await countedFiles(app, policy, account.id, everything),
		links: await linksThatGoRound(app.db, account.id),
		grants: standing.viewer.grants,
		labelIds: [...(await labelIds(app))],
		tenures: await tenuresOf(app.db, account.id),
		agreements: (await agreementsWithOrders(app.db, account.id)).map(
			({ id, orderId, planId, state, attempt, nextAt, paidThrough, processor, ...ended }) => ({
				...{ id, orderId, planId, state, attempt, nextAt, paidThrough, processor },
				...{ endedAt: ended.endedAt, cancelWhy: ended.cancelWhy, cancelWords: ended.cancelWords }
			})
		),
		waiting: await waitingOf(app, account.id),
		mailHeld:
			account.email === null ? null : await whyAddressHeld(app.db, account.email, app.clock.business()),
		mails: (await mailsTo(app.db, account.id, MAILS_SHOWN)).map(({ id, subject, address, at, ...mail }) => ({
			...{ id, subject, at },
			...{ fate: mail.fate, code: mail.fateCode, isCleared: mail.clearedAt !== null },
			/** Where it went to, if that is not where they are written to now. */
			to: address === account.email ? null : address
		})),
		payments: (await paymentsOf(app.db, account.id)).map(({ documents, ...payment }) => ({
			id: payment.id,
			orderId: payment.orderId,
			standing: standingOf(payment),
			amountMinor: payment.amountMinor,
			currency: payment.currency,
			at: payment.createdAt,
			documents: documents.map(({ number }) => number)
		}))
	};
}

/** What the member pays without a card, and nobody has said to have come in. */
async function waitingOf(app: Using<'db'>, memberId: string) {
	const ordered = await waitingOrders(app.db, memberId);
	const asked = await askedOffline(app.db, memberId);
	return [
		...ordered.map(({ id: orderId, ...one }) => ({ orderId, ...one })),
		...asked.map(({ orderId, number, amountMinor, currency }) => ({
			...{ orderId, number, amountMinor, currency, plan: null }
		}))
	];
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
