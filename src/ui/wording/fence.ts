/** A fence in one sentence. */
import type { Audience, Fence } from '$core/access/model';

export function closesWords(fence: Fence, title: (itemId: string) => string | undefined): string {
	const titles = fence.selector.itemIds.flatMap((id) => title(id) ?? []);
	if (titles.length === 0) return 'Closes nothing: its items are gone';
	const first = titles.slice(0, 2).map((t) => `“${t}”`);
	const what = titles.length > 2 ? `${first.join(', ')} and ${titles.length - 2} more` : first.join(' and ');
	return fence.mode === 'replaces' ? `Closes ${what}` : `Lets more people into ${what}`;
}

export function crossesWords(fence: Fence, plan: (id: string) => string): string {
	if (fence.crossings.length === 0) return 'nobody may cross';
	return fence.crossings.map(({ audience }) => audienceWords(audience, plan)).join(', ');
}

function audienceWords(audience: Audience, plan: (id: string) => string): string {
	switch (audience.kind) {
		case 'anyone':
			return 'anyone';
		case 'signed-in':
			return 'everyone signed in';
		case 'holders':
			return `holders of ${audience.planIds.map(plan).join(' or ')}`;
		default:
			return audience satisfies never;
	}
}
