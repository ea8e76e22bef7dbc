/** What is answered where a part of the site's settings was sent: which, and what became of it. */
import { fail } from '@sveltejs/kit';
import { agreedTo, begunWith, fieldError } from '$server/http/parse';
import { TURN_AWAY_PROBLEMS } from '$server/http/read-fence';
import { rehearsalView } from '$server/reads/desk/rehearsal-view';
import { saveSite, siteRevision, type PartOfSite, type SitePart } from '$server/usecases/running/save-site';

/** @param words what somebody else has saved meanwhile, in a sentence */
export async function savePart<P extends SitePart>(
	{ app, viewer }: App.Locals,
	form: FormData,
	part: P,
	value: PartOfSite<P>,
	words: (theirs: PartOfSite<P>) => string
) {
	const saved = await saveSite(app, viewer, part, value, {
		agreedTo: agreedTo(form),
		revision: begunWith(form)
	});
	switch (saved.kind) {
		case 'saved':
			return { part };
		case 'changed': {
			const theirs = { revision: siteRevision(part, saved.theirs), words: words(saved.theirs) };
			return fail(409, { part, ...fieldError(form, '', ''), errors: {}, theirs });
		}
		case 'refused':
			return fail(409, { part, ...fieldError(form, 'turnAway', TURN_AWAY_PROBLEMS[saved.code]) });
		case 'rehearsed': {
			const rehearsal = await rehearsalView(app, saved.rehearsal);
			return fail(409, { part, ...fieldError(form, '', ''), errors: {}, rehearsal });
		}
	}
}
