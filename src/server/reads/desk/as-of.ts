/** The moment that a view of the Desk is worked out for, from its address: `?asof=<ms>&rules=then&assume=paid`. */
import type { Member } from '$core/access/model';
import { namedAnew, namingsIn } from '$core/access/namings';
import type { Policy } from '$core/access/policy';
import { compile } from '$core/access/policy';
import type { Assumption } from '$core/access/timeline';
import type { Instant } from '$core/time/instant';
import type { Using } from '../../app';
import { policyAt, policyChangesAfter } from '../../db/queries/policy';

const DAY_MS = 86_400_000;
/** How far the rail reaches. */
const BACK_DAYS = 183;
const AHEAD_DAYS = 366;

export interface AsOf {
	at: Instant;
	now: Instant;
	from: Instant;
	to: Instant;
	rules: 'today' | 'then';
	assume: Assumption;
}

export interface View {
	moment: AsOf;
	policy: Policy;
	/** A member with what the rules of that moment name them in. */
	asThen: (member: Member) => Member;
}

export async function asOf(app: Using<'clock' | 'db' | 'rights'>, url: URL): Promise<View> {
	const now = app.clock.business();
	const asked = Number(url.searchParams.get('asof') ?? NaN);
	const from = now - BACK_DAYS * DAY_MS;
	const to = now + AHEAD_DAYS * DAY_MS;
	const at = Number.isFinite(asked) ? Math.min(to, Math.max(from, Math.round(asked))) : now;
	const rules = url.searchParams.get('rules') === 'then' ? 'then' : 'today';
	const assume = url.searchParams.get('assume') === 'paid' ? 'only-what-is-paid' : 'renewals-go-on';
	const isPast = rules === 'then' && at < now;
	const moment: AsOf = { at, now, from, to, rules, assume };
	if (!isPast) return { moment, policy: await app.rights.policy(), asThen: (member) => member };
	const { source, version } = await policyAt(app.db, at);
	const since = (await policyChangesAfter(app.db, version)).flatMap(({ delta }) => namingsIn(delta));
	const takenBack = since.toReversed().map((one) => ({ ...one, before: one.after, after: one.before }));
	return { moment, policy: compile(source), asThen: (member) => namedAnew(member, takenBack) };
}
