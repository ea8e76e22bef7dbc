import type { ItemState } from '$core/access/model';

export const ITEM_WORDS: Record<ItemState, string> = {
	draft: 'Draft',
	published: 'Published',
	scheduled: 'To be published',
	archived: 'Archived'
};

export function preparationWords(state: 'waiting' | 'preparing' | 'ready' | 'failed' | null): string {
	switch (state) {
		case 'waiting':
			return 'Waits to be prepared';
		case 'preparing':
			return 'Being prepared';
		case 'ready':
			return 'Ready';
		case 'failed':
			return 'Could not be prepared';
		case null:
			return 'Shows nothing yet';
	}
}
