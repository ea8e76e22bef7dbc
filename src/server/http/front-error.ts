import { FRONT, type FrontKey } from '$words/en/front';

/** An error that pages say in the site's language; whoever asks for data reads it in English. */
export function frontError(key: FrontKey): { message: string; key: FrontKey } {
	return { message: FRONT[key], key };
}
