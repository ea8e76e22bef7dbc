/** What a stranger finds at an address that is handed on, as a sentence. */
import type { StrangerFinds } from '$core/access/stranger';
import { formatMoment } from './time';

export function findsWords(
	finds: StrangerFinds | null,
	planName: (id: string) => string,
	zone: string
): string {
	switch (finds?.kind) {
		case 'open':
			return 'all of it. It is open to anyone.';
		case 'draft':
			return 'nothing. It is a draft: publish it first.';
		case 'archived':
			return 'nothing. It is archived.';
		case 'scheduled':
			return finds.at === null
				? 'nothing yet.'
				: `nothing yet. It is published on ${formatMoment(finds.at, zone)}.`;
		case 'notice':
			return finds.planIds.length === 0
				? 'its title and a notice. No plan that is on sale opens it.'
				: `its title and a notice, with the way to ${finds.planIds.map(planName).join(' or ')}.`;
		case 'sent':
			return `something else: everybody who may not open it is sent to ${finds.to}.`;
		case 'absent':
			return 'nothing. It answers as if there were no such page.';
		case undefined:
			return 'nothing.';
	}
}
