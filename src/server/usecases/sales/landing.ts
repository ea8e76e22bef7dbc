import { openedByPlan } from '$core/access/policy';
import type { Using } from '../../app';

/**
 * Where somebody who has just bought lands: the item they came from, if the plan opens it; else the first thing that it
 * opens; else their account.
 */
export async function landingPath(
	app: Using<'rights'>,
	planId: string,
	next: string | null
): Promise<string> {
	const policy = await app.rights.policy();
	const opened = openedByPlan(policy, planId).filter((item) => item.state === 'published');
	return (opened.find((item) => item.address === next) ?? opened[0])?.address ?? '/account';
}
