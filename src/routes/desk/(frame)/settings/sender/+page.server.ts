import { fail } from '@sveltejs/kit';
import { senderPage } from '$server/reads/desk/sender';
import { lookAtSender, makeSenderKey } from '$server/usecases/running/senders';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals: { app } }) => senderPage(app);

const NO_DOMAIN = 'Mails come from an address without a domain. Give them another one first.';

export const actions: Actions = {
	look: async ({ locals: { app, viewer } }) =>
		(await lookAtSender(app, viewer)) ? { saved: 'Looked at.' } : fail(409, { problem: NO_DOMAIN }),
	key: async ({ locals: { app, viewer } }) => {
		const made = await makeSenderKey(app, viewer);
		if (made.ok) {
			const looked = await lookAtSender(app, viewer);
			return looked
				? { saved: 'The key is made. Write it into its name, then look again.' }
				: fail(409, { problem: NO_DOMAIN });
		}
		return fail(409, {
			problem:
				made.code === 'waits'
					? 'There is a key already that does not stand in its name yet. Write that one.'
					: NO_DOMAIN
		});
	}
};
