import { fail } from '@sveltejs/kit';
import { parse, readForm } from '$server/http/parse';
import { senderPage } from '$server/reads/desk/sender';
import { lookAtSender, makeSenderKey } from '$server/usecases/running/senders';
import { sitePart, siteRevision } from '$server/usecases/running/save-site';
import { SenderForm } from '../../settings/form';
import { savePart } from '../../settings/save';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { app } }) => {
	const site = await app.site();
	return {
		...(await senderPage(app)),
		from: { kept: sitePart('mail', site), revision: siteRevision('mail', site) }
	};
};

const NO_DOMAIN = 'Mails come from an address without a domain. Give them another one first.';

export const actions: Actions = {
	save: async ({ locals, request }) => {
		const form = await readForm(request);
		const parsed = await parse(SenderForm, form);
		if (!parsed.ok) return fail(400, { part: 'mail', ...parsed });
		return savePart(locals, form, 'mail', parsed.data, ({ senderEmail }) => `${senderEmail}.`);
	},
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
