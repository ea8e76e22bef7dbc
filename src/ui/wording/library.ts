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
	adds: {
		label: 'Adds',
		means: 'Those below may cross too. Nothing is closed, and nothing is taken from anybody.'
	},
	replaces: {
		label: 'Replaces',
		means:
			'Only those below may cross, and those whom wider fences let in throughout. Wider fences count for nothing else here.'
	},
	seals: { label: 'Seals', means: 'Only those below may cross. No wider fence counts at all.' }
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
