/** The form of an item or collection, for a new one and for one that is there. */
import { IsIn, IsNotEmpty, IsUUID, Matches, MaxLength, ValidateIf } from 'class-validator';
import { RESOURCE_KINDS, type ResourceKind } from '$core/access/model';
import { hasChips, isLink, readRichJson } from '$core/text/rich-text';
import type { ItemProblem, ItemWish } from '$server/usecases/library/edit-item';

const TEXT_PROBLEM =
	'A text has at most 20 000 characters, and its links lead to web addresses or paths of this site.';

export class ItemForm {
	@IsIn(RESOURCE_KINDS, { message: 'Choose what it is.' })
	kind = 'page' as ResourceKind;

	@MaxLength(200, { message: 'A title has at most 200 characters.' })
	@IsNotEmpty({ message: 'Give it a title.' })
	title = '';

	/** Rich text, as JSON. */
	@MaxLength(500_000, { message: TEXT_PROBLEM })
	description = '[]';

	@ValidateIf((form: ItemForm) => form.address !== '')
	@MaxLength(300, { message: 'An address has at most 300 characters.' })
	@Matches(/^\//, { message: 'An address begins with a slash, without the host: /videos/truing-a-wheel.' })
	address = '';

	@ValidateIf((form: ItemForm) => form.home !== '')
	@IsUUID('all', { message: 'Choose where it lives from the list.' })
	home = '';

	@ValidateIf((form: ItemForm) => form.category !== '')
	@IsUUID('all', { message: 'Choose a category from the list.' })
	category = '';

	@IsUUID('all', { each: true, message: 'Choose tags from the list.' })
	tags: string[] = [];

	@IsIn(['', 'open', 'closed'], { message: 'Choose whether it is open when no fence speaks.' })
	base = '' as '' | 'open' | 'closed';

	@ValidateIf((form: ItemForm) => form.fileName !== '')
	@Matches(/^[^/\\]{1,200}\.[A-Za-z0-9]{1,16}$/, {
		message: 'A file’s name has an ending, such as dial-template.pdf.'
	})
	fileName = '';

	@MaxLength(2000, { message: 'At most 2000 characters.' })
	target = '';

	@IsIn(['', 'yes'], { message: 'Choose whether it is shown in the page.' })
	opensInBrowser = '';

	@IsIn(['', 'yes'], { message: 'Choose whether the poster is shown.' })
	showsPoster = '';
}

/** Pages, courses and shows begin open; everything else begins closed. */
export function wishOf(form: ItemForm): ItemWish {
	const beginsOpen = ['page', 'course', 'section', 'show', 'shelf'].includes(form.kind);
	const ending = /\.([A-Za-z0-9]{1,16})$/.exec(form.fileName)?.[1] ?? null;
	return {
		kind: form.kind,
		title: form.title,
		text: readRichJson(form.description) ?? [],
		// Whoever types an address as they speak it means hyphens.
		address: form.address.replace(/\s+/g, '-'),
		homeId: form.home || null,
		categoryId: form.category || null,
		tagIds: form.tags,
		base: form.base || (beginsOpen ? 'open' : 'closed'),
		extension: ending?.toLowerCase() ?? null,
		target: frameSource(form.target) || null,
		showsPoster: form.showsPoster === 'yes',
		...(form.kind === 'link' ? { opensInBrowser: form.opensInBrowser === 'yes' } : {})
	};
}

/** Whoever was given a frame to paste pastes all of it: what counts is its address. */
function frameSource(target: string): string {
	return /<iframe[^>]*\ssrc="([^"]+)"/i.exec(target)?.[1] ?? target.trim();
}

/** What is wrong with what leads elsewhere: anything but an address could run in the reader's browser. */
export function contentProblem(form: ItemForm): [field: string, message: string] | null {
	const text = readRichJson(form.description);
	if (text === null || hasChips(text)) return ['description', TEXT_PROBLEM];
	return form.target === '' || isLink(frameSource(form.target))
		? null
		: ['target', 'Write a web address that begins with https://.'];
}

export const ITEM_PROBLEMS: Record<ItemProblem | 'not-ready', [field: string, message: string]> = {
	unknown: ['title', 'This item does not exist any more.'],
	'bad-address': ['address', 'This address cannot be used. Write a path such as /videos/truing-a-wheel.'],
	'reserved-address': ['address', 'This address belongs to Stile itself. Begin it with another word.'],
	'taken-address': ['address', 'Something else has this address. Choose one of its own.'],
	'needs-home': ['home', 'Choose where it lives: this kind cannot stand alone.'],
	'wrong-home': ['home', 'It cannot live there. Choose another place.'],
	'home-within-itself': ['home', 'It would live inside itself. Choose another place.'],
	'unknown-label': ['category', 'A category or tag does not exist any more. Choose again.'],
	'not-ready': ['title', 'It can be published as soon as it is prepared.']
};
