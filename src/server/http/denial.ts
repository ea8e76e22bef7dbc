import { error, redirect } from '@sveltejs/kit';
import type { Decision, Standing } from '$core/access/model';

export interface Denial {
	verdict: Exclude<Decision, { verdict: 'open' }>['verdict'];
	standing: Standing;
	notice: string;
	openedBy: string[];
	opensAt: number | null;
}

export const NO_SUCH_PAGE = 'There is no page at this address.';

/** Answers a decision that is not open: no such page, somewhere else, or a notice to show in place of the content. */
export function answerDenial(
	decision: Exclude<Decision, { verdict: 'open' }>,
	path: string,
	isSignedIn: boolean,
	defaultNotice: string
): Denial {
	const { verdict, standing, openedBy, opensAt, turnAway } = decision;
	const denial = { verdict, standing, openedBy, opensAt };
	switch (turnAway.kind) {
		case 'absent':
			error(404, NO_SUCH_PAGE);
		// eslint-disable-next-line no-fallthrough -- error() does not return
		case 'sent':
			// A member without the plan is never sent to sign in: they are.
			if (turnAway.to === '/sign-in' && isSignedIn) return { ...denial, notice: defaultNotice };
			redirect(303, `${turnAway.to}?next=${encodeURIComponent(path)}`);
		// eslint-disable-next-line no-fallthrough -- redirect() does not return
		case 'notice':
			return { ...denial, notice: turnAway.text };
	}
}
