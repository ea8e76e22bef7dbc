import type { FenceMode, ItemState, ResourceKind } from '$core/access/model';

export const ITEM_WORDS: Record<ItemState, string> = {
	draft: 'Draft',
	published: 'Published',
	scheduled: 'To be published',
	archived: 'Archived'
};

export const KIND_WORDS: Record<ResourceKind, { one: string; many: string }> = {
	video: { one: 'video', many: 'Videos' },
	audio: { one: 'audio', many: 'Audio' },
	file: { one: 'file', many: 'Files' },
	page: { one: 'page', many: 'Pages' },
	lesson: { one: 'lesson', many: 'Lessons' },
	episode: { one: 'episode', many: 'Episodes' },
	event: { one: 'event', many: 'Events' },
	link: { one: 'link', many: 'Links' },
	course: { one: 'course', many: 'Courses' },
	section: { one: 'section', many: 'Sections' },
	show: { one: 'show', many: 'Shows' },
	shelf: { one: 'shelf', many: 'Shelves' }
};

export const MODE_WORDS: Record<FenceMode, { label: string; means: string }> = {
	replaces: {
		label: 'Stay out',
		means:
			'Only those above come in, and those whom a wider fence lets in “also inside every narrower fence”.'
	},
	adds: {
		label: 'May come in, too',
		means: 'This fence closes nothing by itself: it only lets more people in.'
	},
	seals: {
		label: 'Nobody else’s fence counts here',
		means: 'Not even those come in whom a wider fence lets in “also inside every narrower fence”.'
	}
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
