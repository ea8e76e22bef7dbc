import { fail } from '@sveltejs/kit';
import { PERMISSIONS, readPermissions } from '$core/staff/permissions';
import { fieldError, parse, readForm } from '$server/http/parse';
import { staffPage } from '$server/reads/desk/settings';
import { takeFactorOff } from '$server/usecases/accounts/second-factor';
import {
	changePost,
	inviteStaff,
	needStaffCode,
	removeRole,
	saveRole,
	type Post
} from '$server/usecases/accounts/staff';
import type { Actions, PageServerLoad } from './$types';
import { InviteForm, PostForm, RoleForm } from './form';

const POST_PROBLEMS = {
	unknown: 'They are not among the staff any more. Load the page again.',
	'unknown-role': 'This role does not exist any more. Choose again.',
	'more-than-own': 'This is more than you may do yourself. An owner can change it.',
	'last-owner': 'Somebody has to be able to do everything: make somebody else an owner first.'
};

export const load: PageServerLoad = async ({ locals: { app, viewer } }) => ({
	ownId: viewer?.id ?? '',
	permissions: [...PERMISSIONS],
	...(await staffPage(app))
});

export const actions: Actions = {
	invite: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const parsed = await parse(InviteForm, form);
		if (!parsed.ok) return fail(400, { part: 'invite', ...parsed });
		const { email, name, post } = parsed.data;
		const invited = await inviteStaff(app, viewer, { email, name, post: postOf(post) });
		if (invited.kind === 'refused') {
			const wrong =
				invited.code === 'is-staff'
					? fieldError(form, 'email', 'They work at the Desk already. Change what they may do in the list.')
					: fieldError(form, 'post', POST_PROBLEMS[invited.code]);
			return fail(409, { part: 'invite', ...wrong });
		}
		return { part: 'staff', saved: `A link is on its way to ${email}.` };
	},
	post: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const parsed = await parse(PostForm, form);
		if (!parsed.ok) return fail(400, { part: 'staff', ...parsed });
		const { account, post } = parsed.data;
		const changed = await changePost(app, viewer, account, post === '' ? null : postOf(post));
		if (changed.kind === 'refused')
			return fail(409, { part: 'staff', ...fieldError(form, 'staff', POST_PROBLEMS[changed.code]) });
		return {
			part: 'staff',
			saved: post === '' ? 'They are out of the staff.' : 'Saved. It counts from now on.'
		};
	},
	code: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const isNeeded = form.get('needCode') === 'yes';
		const saved = await needStaffCode(app, viewer, isNeeded);
		if (saved.kind === 'refused')
			return fail(409, {
				part: 'code',
				...fieldError(
					form,
					'needCode',
					'Set up your own code first, in your account: whoever asks for one has one.'
				)
			});
		return {
			part: 'code',
			saved: isNeeded
				? 'Saved. Whoever has no code yet sets it up before the Desk opens.'
				: 'Saved. Nobody is asked who has not set it up.'
		};
	},
	codeOff: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const taken = await takeFactorOff(app, viewer, String(form.get('account') ?? ''));
		if (!taken.ok)
			return fail(409, { part: 'staff', ...fieldError(form, 'staff', POST_PROBLEMS[taken.code]) });
		return { part: 'staff', saved: 'Taken off. They are signed out everywhere, and a mail tells them.' };
	},
	role: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const parsed = await parse(RoleForm, form);
		const of = String(form.get('role') ?? '');
		if (!parsed.ok) return fail(400, { part: `role ${of}`, ...parsed });
		const { role, roleName, permissions } = parsed.data;
		const saved = await saveRole(app, viewer, {
			id: role || null,
			name: roleName,
			permissions: readPermissions(permissions)
		});
		if (saved.kind === 'refused')
			return fail(409, {
				part: 'staff',
				...fieldError(
					form,
					'staff',
					saved.code === 'unknown'
						? 'This role does not exist any more. Load the page again.'
						: POST_PROBLEMS[saved.code]
				)
			});
		return {
			part: `role ${saved.roleId}`,
			saved: 'Saved. It counts from now on, for everybody who holds it.'
		};
	},
	removeRole: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const removed = await removeRole(app, viewer, String(form.get('role') ?? ''));
		if (removed.kind === 'refused') {
			const text =
				removed.code === 'is-held'
					? 'Somebody holds this role. Give them another one first.'
					: 'This role does not exist any more.';
			return fail(409, { part: 'staff', ...fieldError(form, 'staff', text) });
		}
		return { part: 'staff', saved: 'The role is gone.' };
	}
};

function postOf(text: string): Post {
	return text === 'owner' ? { kind: 'owner' } : { kind: 'role', roleId: text };
}
