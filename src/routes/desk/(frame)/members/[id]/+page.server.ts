import { error, fail, redirect } from '@sveltejs/kit';
import { NO_SUCH_PAGE } from '$server/http/denial';
import { memberPage } from '$server/reads/desk/members';
import { namesIn } from '$server/reads/desk/names';
import { agreedTo, fieldError, parse, readForm } from '$server/http/parse';
import { besidesWords } from '$server/http/many-words';
import { readDate } from '$server/http/read-window';
import { memberRehearsal, rehearsalView } from '$server/reads/desk/rehearsal-view';
import { giveMoreUses } from '$server/usecases/library/uses';
import { deleteMember } from '$server/usecases/accounts/delete-member';
import { askNewAddressFor } from '$server/usecases/accounts/change-address';
import { changeFirstDay } from '$server/usecases/accounts/first-day';
import { takeFactorOff } from '$server/usecases/accounts/second-factor';
import { memberLabelOf } from '$server/usecases/accounts/member-labels';
import { runMany, type ManyWish } from '$server/usecases/accounts/run-many';
import { endRehearsed, giveRehearsed } from '$server/usecases/accounts/run-members';
import { tooLate } from '$server/http/too-late';
import type { Actions, PageServerLoad } from './$types';
import { AddressForm, EndForm, FirstDayForm, GiveForm } from '../form';

export const load: PageServerLoad = async ({ locals: { app }, params, url }) => {
	const page = await memberPage(app, params.id, url);
	if (!page) error(404, NO_SUCH_PAGE);
	return { ...page, known: await namesIn(app, page) };
};

const ADDRESS_PROBLEMS = {
	same: 'This is their address already.',
	'too-many-links': 'Mails went to this address often within the last hour. Try again later.'
};

export const actions: Actions = {
	moreUses: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const count = Number(form.get('count'));
		const itemId = String(form.get('item') ?? '');
		const given = await giveMoreUses(app, viewer, { memberId: params.id, itemId, count });
		if (given.ok) return { saved: 'Given.' };
		if (given.code === 'unknown') return tooLate();
		return fail(400, fieldError(form, 'count', 'Write how many more: a whole number from 1 to 1000.'));
	},
	address: async ({ locals: { app, viewer }, request, params, getClientAddress }) => {
		const form = await readForm(request);
		const parsed = await parse(AddressForm, form);
		if (!parsed.ok) return fail(400, parsed);
		const ask = { email: parsed.data.email, client: getClientAddress() };
		const asked = await askNewAddressFor(app, viewer, params.id, ask);
		if (asked.ok)
			return {
				saved: `A mail is on its way to ${ask.email}. The address counts once the link in it is pressed.`
			};
		return asked.code === 'same' || asked.code === 'too-many-links'
			? fail(400, fieldError(form, 'email', ADDRESS_PROBLEMS[asked.code]))
			: tooLate();
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
		const wish = {
			memberId: params.id,
			planId: plan,
			from: begin?.value.at ?? null,
			until: end?.value.at ?? null,
			why
		};
		const given = await giveRehearsed(app, viewer, wish, parsed.data.agreedTo || null);
		if (given.ok) return { saved: 'Given. It counts from its first day on.' };
		if (given.code === 'rehearsed')
			return { giving: await memberRehearsal(app, params.id, given), values: parsed.data };
		return fail(
			409,
			given.code === 'unknown'
				? fieldError(form, 'plan', 'This plan or member does not exist any more.')
				: fieldError(form, 'until', 'It would end before it begins. Choose a later end, or none.')
		);
	},
	end: async ({ locals: { app, viewer }, request, params }) => {
		const parsed = await parse(EndForm, await readForm(request));
		if (!parsed.ok) return fail(400, parsed);
		const { grant: grantId, why, agreedTo } = parsed.data;
		const ended = await endRehearsed(app, viewer, { memberId: params.id, grantId, why }, agreedTo || null);
		if (ended.ok) return { saved: 'Ended. It is shut from now on, in the player too.' };
		if (ended.code === 'unknown') return tooLate();
		const rehearsal = await memberRehearsal(app, params.id, ended);
		return { ending: { grantId, rehearsal, pays: ended.pays } };
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
	label: async ({ locals: { app, viewer }, request, params }) => {
		const form = await readForm(request);
		const newName = String(form.get('newLabel') ?? '').trim();
		if (newName.length > 60)
			return fail(400, fieldError(form, 'newLabel', 'A label has at most 60 characters.'));
		const isOff = form.get('do') === 'off';
		const labelId = newName === '' || isOff ? String(form.get('label') ?? '') : null;
		if (labelId === '') return fail(400, fieldError(form, 'newLabel', 'Choose a label, or name a new one.'));
		const planId = labelId ?? (await memberLabelOf(app, viewer, newName));
		const wish: ManyWish = isOff ? { kind: 'end', planId } : { kind: 'give', planId, until: null };
		const done = await runMany(app, viewer, [params.id], wish, agreedTo(form));
		switch (done.kind) {
			case 'saved':
				return { saved: isOff ? 'The label is off.' : 'Labelled.' };
			case 'refused':
				return tooLate();
			case 'rehearsed':
				return {
					labelling: {
						rehearsal: await rehearsalView(app, done.rehearsal),
						besides: besidesWords(done),
						labelId: planId,
						did: isOff ? 'off' : 'on'
					}
				};
		}
	},
	codeOff: async ({ locals: { app, viewer }, request, params }) => {
		const taken = await takeFactorOff(app, viewer, params.id);
		if (taken.ok) return { saved: 'Taken off. The member is signed out everywhere, and a mail tells them.' };
		if (taken.code === 'unknown') return tooLate();
		const why = 'This is somebody of the staff who may do more than you. An owner can do it.';
		return fail(409, fieldError(await readForm(request), 'code', why));
	},
	delete: async ({ locals: { app, viewer }, params }) => {
		if (!(await deleteMember(app, viewer, params.id)).ok) return tooLate();
		redirect(303, '/desk/members');
	}
};
