import { error, fail, redirect } from '@sveltejs/kit';
import { VERDICTS, type Verdict } from '$core/access/decision';
import type { Member } from '$core/access/model';
import type { Policy } from '$core/access/policy';
import { changesFor } from '$core/access/next-changes';
import { assuming } from '$core/access/timeline';
import { accountById, tenuresOf } from '$server/db/queries/members';
import { linksThatGoRound } from '$server/db/queries/uses';
import { paymentsOf, subscriptionsOf } from '$server/db/queries/sales';
import { asOf } from '$server/http/as-of';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { namesIn } from '$server/http/names';
import { pageOf } from '$server/http/page-of';
import { fieldError, parse, readForm } from '$server/http/parse';
import { readDate } from '$server/http/read-window';
import { memberRehearsal } from '$server/http/rehearsal-view';
import { itemsOfMember } from '$server/usecases/access/check';
import { fileUses, giveMoreUses } from '$server/usecases/library/uses';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { changeFirstDay } from '$server/usecases/accounts/first-day';
import { endGrant, giveGrant } from '$server/usecases/accounts/run-members';
import { tooLate } from '$server/http/too-late';
import type { Actions, PageServerLoad } from './$types';
import { EndForm, FirstDayForm, GiveForm } from '../form';

const PAGE_SIZE = 100;
const NEXT = 12;
const FILES_SHOWN = 50;

export const load: PageServerLoad = async ({ locals: { app }, params, url }) => {
	const account = await accountById(app.db, params.id);
	const standing = await app.rights.standing(params.id);
	if (!account || !standing) error(404, NO_SUCH_PAGE);
	const { moment, policy } = await asOf(app, url);
	const viewer = moment.at > moment.now ? assuming(standing.viewer, moment.assume) : standing.viewer;
	const everything = await itemsOfMember(app, policy, viewer as Member, moment.at);
	const ids = everything.map(({ id }) => id);
	const state = VERDICTS.find((one) => one === url.searchParams.get('state')) ?? null;
	const changes = changesFor(policy, standing.viewer, ids, moment.from, moment.to, moment.assume);
	const next = changes.filter(({ at }) => at > moment.at).slice(0, NEXT);
	const items = pageOf(everything, state, url, PAGE_SIZE);
	const files = await countedFiles(app, policy, account.id, everything);
	const links = await linksThatGoRound(app.db, account.id);
	const shown = {
		member: { id: account.id, name: account.name, email: account.email, createdAt: account.createdAt },
		moment,
		marks: [...new Set(changes.map(({ at }) => at))],
		next,
		items,
		files,
		links,
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
	return { ...shown, known: await namesIn(app, shown) };
};

/** Files whose savings are counted for the member, and how many are left. */
async function countedFiles(
	app: App.Locals['app'],
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

export const actions: Actions = {
	moreUses: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const count = Number(form.get('count'));
		const itemId = String(form.get('item') ?? '');
		const isGiven = await giveMoreUses(app, viewer, { memberId: params.id, itemId, count });
		return isGiven
			? { saved: 'Given.' }
			: fail(400, fieldError(form, 'count', 'Write how many more: a whole number from 1 to 1000.'));
	},
	give: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const parsed = await parse(GiveForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const { zone } = await app.site();
		const { plan, from, until, why } = parsed.data;
		const begin = from === '' ? null : readDate(from, zone);
		if (begin && !begin.ok) return fail(400, fieldError(form, 'from', begin.message));
		const end = until === '' ? null : readDate(until, zone);
		if (end && !end.ok) return fail(400, fieldError(form, 'until', end.message));
		const given = await giveGrant(app, viewer, {
			memberId: params.id,
			planId: plan,
			from: begin?.value.at ?? app.clock.business(),
			until: end?.value.at ?? null,
			why
		});
		if (given.ok) return { saved: 'Given. It counts from its first day on.' };
		return fail(
			409,
			given.code === 'unknown'
				? fieldError(form, 'plan', 'This plan or member does not exist any more.')
				: fieldError(form, 'until', 'It would end before it begins. Choose a later end, or none.')
		);
	},
	end: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(EndForm, await readForm(request));
		if (!parsed.ok) return fail(400, parsed);
		if (!(await endGrant(app, viewer, parsed.data.grant, parsed.data.why))) return tooLate();
		return { saved: 'Ended. It is shut from now on, in the player too.' };
	},
	firstDay: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const parsed = await parse(FirstDayForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const day = readDate(parsed.data.day, (await app.site()).zone);
		if (!day.ok) return fail(400, fieldError(form, 'day', day.message));
		if (day.value.at > app.clock.business())
			return fail(400, fieldError(form, 'day', 'A first day cannot lie in the future.'));
		const wish = { memberId: params.id, planId: parsed.data.plan, at: day.value.at };
		const set = await changeFirstDay(app, viewer, wish, parsed.data.agreedTo || null);
		switch (set.kind) {
			case 'saved':
				return { saved: 'Releases count from that day now.' };
			case 'refused':
				return fail(404, fieldError(form, 'plan', 'This member does not exist any more.'));
			case 'rehearsed':
				return { firstDay: await memberRehearsal(app, params.id, set), values: parsed.data };
		}
	},
	delete: async ({ locals: { app, viewer }, params }) => {
		if (!(await deleteMember(app, viewer, params.id))) return tooLate();
		redirect(303, '/desk/members');
	}
};
