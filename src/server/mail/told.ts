/** The mail that tells somebody of the staff what happened: a line for each, the names looked up when it is written. */
import { kindsFor } from '$core/staff/telling';
import { languageOf } from '$words/languages';
import { say } from '$words/say';
import type { ToldKey } from '$words/en/mail';
import type { Using } from '../app';
import { accountById, accountNames, type Account } from '../db/queries/members';
import { planNames } from '../db/queries/sales';
import { permissionsOf } from '../db/queries/staff';
import { tellingsOf, wishesOf, type Told } from '../db/queries/telling';
import { JOBS_OF_LIBRARY, type SiteSettings } from '../db/schema/running';
import { toldTo } from '../usecases/running/tell-staff';
import type { About } from './messages';
import type { Occasion } from './occasions';

const LINES_SHOWN = 30;

/** `null`: they work here no more, see none of it any more, or wish not to be told by now. */
export async function aboutTold(
	app: Using<'db' | 'settings'>,
	siteFor: (reader: Account) => Promise<SiteSettings>,
	{ accountId, batch, how }: Extract<Occasion, { occasion: 'told' }>
): Promise<{ account: Account; about: Omit<About, 'origin'> } | null> {
	const account = await accountById(app.db, accountId);
	if (!account?.email || account.role === 'member') return null;
	const permissions = await permissionsOf(app.db, account);
	if (kindsFor(permissions).length === 0) return null;
	const wishes = await wishesOf(app.db, accountId, account.role === 'owner');
	const told = toldTo(await tellingsOf(app.db, how, batch), { id: accountId, permissions, wishes }, how);
	if (told.length === 0) return null;
	const about = {
		key: how === 'daily' ? ('told-daily' as const) : ('told' as const),
		to: account.email,
		values: { count: told.length },
		// Whoever works at the Desk signs in there: no way in travels with what is sent every day.
		url: `${app.settings.origin}/desk`,
		table: await linesOf(app, told, await siteFor(account))
	};
	return { account, about };
}

async function linesOf(
	app: Using<'db'>,
	told: readonly Told[],
	{ language, zone }: { language: string; zone: string }
) {
	const { told: words, locale } = languageOf(language);
	const shown = told.slice(0, LINES_SHOWN);
	const people = await accountNames(
		app.db,
		shown.flatMap(({ memberId }) => memberId ?? [])
	);
	const plans = await planNames(
		app.db,
		shown.flatMap(({ planId }) => planId ?? [])
	);
	const moment = new Intl.DateTimeFormat(locale, { dateStyle: 'medium', timeStyle: 'short', timeZone: zone });
	const lines = shown.map((one) => ({
		label: moment.format(one.at),
		value: say(
			words[keyOf(one)],
			{
				who: (one.memberId && people.get(one.memberId)) || words.somebody,
				plan: (one.planId && plans.get(one.planId)) || words['a-plan']
			},
			locale
		)
	}));
	const count = told.length - shown.length;
	return count > 0 ? [...lines, { label: '', value: say(words.more, { count }, locale) }] : lines;
}

const MAILS: ReadonlySet<string> = new Set(['mail', 'sign-in-mail', 'wait-mail']);

function keyOf({ action, hasEnded, jobKind, planId }: Told): ToldKey {
	switch (action) {
		case 'granted':
			return planId === null ? 'granted' : 'granted-plan';
		case 'subscription-declined':
			return hasEnded ? 'subscription-ended' : 'subscription-declined';
		case 'failed':
			if (jobKind !== null && JOBS_OF_LIBRARY.has(jobKind)) return 'failed-file';
			if (jobKind === 'call') return 'failed-call';
			return jobKind !== null && MAILS.has(jobKind) ? 'failed-mail' : 'failed-money';
		default:
			return action as ToldKey;
	}
}
