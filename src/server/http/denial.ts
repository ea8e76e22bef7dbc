import { error, redirect } from '@sveltejs/kit';
import type { Denied, Verdict } from '$core/access/decision';
import type { Standing, Teaser, TurnAway } from '$core/access/model';
import { fromPlain, type RichText } from '$core/text/rich-text';
import { frontError } from './front-error';

export interface Denial {
	verdict: Exclude<Verdict, 'open'>;
	standing: Standing;
	text: RichText;
	teaser: Teaser;
	opensAt: number | null;
	/** They hold something that would open it, and it ends before the window opens. */
	isHeldInVain: boolean;
}

export const NO_SUCH_PAGE = frontError('error.no-page');

/** Answers a decision that is not open: no such page, somewhere else, or a notice to show in place of the content. */
export function answerDenial(decision: Denied, path: string, isSignedIn: boolean, site: TurnAway): Denial {
	const { verdict, standing, opensAt, isHeldInVain, teaser, answer } = decision;
	const denial = { verdict, standing, opensAt, isHeldInVain, teaser };
	switch (answer.kind) {
		case 'absent':
			return error(404, NO_SUCH_PAGE);
		case 'sent':
			// A member without the plan is never sent to sign in: they are. Nor is anybody sent to where they are.
			if ((answer.to === '/sign-in' && isSignedIn) || answer.to === path)
				return { ...denial, text: siteText(site) };
			return redirect(
				303,
				`${answer.to}${answer.to.includes('?') ? '&' : '?'}next=${encodeURIComponent(path)}`
			);
		case 'notice':
			return { ...denial, text: answer.text };
	}
}

function siteText({ answer }: TurnAway): RichText {
	return answer.kind === 'notice' ? answer.text : fromPlain('This is for members.');
}
