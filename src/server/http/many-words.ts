import type { Besides } from '../usecases/accounts/run-many';

/** What else would happen to some of many members, in sentences. */
export function besidesWords({ paying, unproved }: Besides): string[] {
	const found: string[] = [];
	if (paying > 0)
		found.push(
			`${paying === 1 ? 'One of them pays' : `${paying} of them pay`} by and by: that ends, nothing more is charged, and nothing is paid back.`
		);
	if (unproved > 0)
		found.push(
			`${unproved === 1 ? 'One of them has' : `${unproved} of them have`} not shown yet that the mailbox is theirs: whoever paid on the address is signed out, and the way in is mailed there.`
		);
	return found;
}
