import { fail } from '@sveltejs/kit';
import { parse, readForm } from '$server/http/parse';
import { returnedPage } from '$server/reads/desk/mail';
import { lookIntoBox, writeAgain } from '$server/usecases/mail/returns';
import { MemberForm } from '../form';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals: { app } }) => returnedPage(app);

const DONE =
	'This address is written to already: somebody else has seen to it, or a mailed link was pressed there.';

export const actions: Actions = {
	again: async ({ locals: { app, viewer }, request }) => {
		const parsed = await parse(MemberForm, await readForm(request));
		if (!parsed.ok) return fail(400, { problem: DONE });
		const done = await writeAgain(app, viewer, parsed.data.memberId);
		return done.ok
			? { said: 'Mails go there again, until the next one comes back.' }
			: fail(409, { problem: DONE });
	},
	look: async ({ locals: { app, viewer } }) => {
		const looked = await lookIntoBox(app, viewer);
		if (looked.ok)
			return {
				said: looked.count === 0 ? 'Nothing new lay in the mailbox.' : `Reports read: ${looked.count}.`
			};
		return fail(409, {
			problem:
				looked.code === 'no-box'
					? 'No mailbox is set from which reports could be read.'
					: 'The mailbox does not let itself be read. Whoever runs this Stile sees in its log what it answers; STILE_RETURNS_URL says where it is.'
		});
	}
};
