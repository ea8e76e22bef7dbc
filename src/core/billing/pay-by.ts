/**
 * The ways to pay: which of them a buyer is offered, and in which order.
 *
 * The site has a list of them, the first of which is chosen first; a plan may have its own, of which only those count that the
 * site has, too. Example: a site that takes cards and transfers, and a plan that is paid by transfer alone.
 */

/** `card`: a processor that keeps cards and charges them. `offline`: by transfer or in cash; somebody says when it came in. */
export const PROCESSORS = ['card', 'offline'] as const;
export type ProcessorName = (typeof PROCESSORS)[number];

/** Days for which money that is paid offline is waited for. */
export const OFFLINE_WAITS_DAYS = 30;

/** @param plan its own list; `null`: as the site. Where nothing of it is left, the site's counts: nobody sells in vain. */
export function waysToPay(
	site: readonly ProcessorName[],
	plan: readonly ProcessorName[] | null
): readonly ProcessorName[] {
	const own = (plan ?? site).filter((name) => site.includes(name));
	return own.length > 0 ? own : site;
}

/** Lists of them, as forms send them: the first choice first. */
export const WAY_LISTS = ['card', 'offline', 'card offline', 'offline card'] as const;

/** What is no way is left out. */
export function readWays(text: string): ProcessorName[] {
	return text.split(' ').flatMap((name) => PROCESSORS.find((one) => one === name) ?? []);
}
