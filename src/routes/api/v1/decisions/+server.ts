import { json } from '@sveltejs/kit';
import { apiProblem, noKey } from '$server/http/api-problem';
import { offersAt, type Offer } from '$core/access/offers';
import { deskNames } from '$server/reads/desk/names';
import { record } from '$server/http/read-window';
import { STRANGER } from '$core/access/model';
import { memberByEmail } from '$server/reads/desk/members';
import { checkAddress, checkOne } from '$server/reads/desk/check';
import { isApiKey } from '$server/usecases/running/api-keys';
import { normaliseEmail } from '$server/usecases/accounts/sign-in';
import { namesOf } from '$ui/names';
import { whyOf } from '$ui/wording/decision';
import type { RequestHandler } from './$types';

/** `{ member?: id or address, item: id } or { …, address: path }`, `at?`: ISO 8601. Answers with the decision and its why. */
export const POST: RequestHandler = async ({ locals: { app }, request }) => {
	if (!(await isApiKey(app, request.headers.get('authorization')))) return noKey();
	const ask = record(await request.json().catch(() => null));
	const at = ask.at === undefined ? app.clock.business() : Date.parse(String(ask.at));
	if (!Number.isFinite(at))
		return apiProblem(400, 'bad-moment', '`at` is a moment such as 2026-03-31T18:00:00Z.');
	const viewer = await viewerOf(app, ask.member);
	if (!viewer)
		return apiProblem(
			404,
			'no-such-member',
			'There is no such member. Leave `member` out to ask for a stranger.'
		);
	const policy = await app.rights.policy();
	const { zone } = await app.site();
	const names = namesOf(await deskNames(app), zone);
	if (typeof ask.item === 'string') {
		if (!policy.resources.has(ask.item)) return apiProblem(404, 'no-such-item', 'There is no such item.');
		const { decision, steps } = await checkOne(app, policy, viewer, ask.item, at);
		const openedBy = offersAt(policy, viewer, ask.item, at);
		return json({ item: ask.item, at: iso(at), ...answer(decision, openedBy), why: why(steps, names) });
	}
	if (typeof ask.address !== 'string')
		return apiProblem(400, 'nothing-asked', 'Name an `item` or an `address`.');
	const checked = checkAddress(policy, viewer, ask.address, at);
	if (!checked.ok)
		return checked.code === 'never-fenced'
			? json({ item: null, at: iso(at), verdict: 'open', until: null, opensAt: null, openedBy: [], why: [] })
			: apiProblem(400, 'bad-address', '`address` is a path that begins with a slash.');
	return json({
		item: checked.itemId,
		address: checked.path,
		at: iso(at),
		...answer(checked.decision, offersAt(policy, viewer, checked.itemId ?? checked.path, at)),
		why: why(checked.steps, names)
	});
};

async function viewerOf(app: App.Locals['app'], member: unknown) {
	if (member === undefined || member === null) return STRANGER;
	if (typeof member !== 'string') return null;
	const id = member.includes('@') ? await memberByEmail(app, normaliseEmail(member)) : member;
	return id && /^[0-9a-f-]{36}$/.test(id) ? ((await app.rights.standing(id))?.viewer ?? null) : null;
}

type Explained = Awaited<ReturnType<typeof checkOne>>;

function answer(decision: Explained['decision'], offers: readonly Offer[]) {
	const { verdict, until } = decision;
	const isOpen = decision.verdict === 'open';
	return {
		verdict,
		until: iso(until),
		opensAt: isOpen ? null : iso(decision.opensAt),
		openedBy: isOpen ? [] : offers.map(({ planId }) => planId)
	};
}

function why(steps: Explained['steps'], names: ReturnType<typeof namesOf>) {
	const sentences = whyOf(steps, names);
	return steps.map((step, n) => ({ ...step, text: sentences[n]?.text ?? '' }));
}

function iso(at: number | null): string | null {
	return at === null ? null : new Date(at).toISOString();
}
