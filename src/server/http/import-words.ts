import type { ImportProblem, Tried } from '../usecases/library/import-table';

export function tableWords({ code, seen }: Extract<Tried, { ok: false }>): string {
	switch (code) {
		case 'empty':
			return 'There is no row in it. The first row names the columns, and each further one describes an item.';
		case 'no-columns':
			return `The first row must name the columns, among them title or address. It says: ${seen}. Say below what they are.`;
		case 'column-twice':
			return `Two columns are taken for ${seen}. Leave one of them out.`;
		case 'too-many':
			return `It has ${seen} rows; at most 5000 are taken at once.`;
		case 'not-a-table':
			return `This is no table that can be read: ${seen}`;
		default:
			return code satisfies never;
	}
}

export function importWords({ code, seen }: ImportProblem): string {
	switch (code) {
		case 'unknown-kind':
			return `“${seen}” is no kind of item. Write page, link, event, lesson, course, shelf and so on.`;
		case 'unknown-base':
			return `“${seen}” is not open or closed.`;
		case 'unknown-state':
			return `“${seen}” is no state. Write draft, published or archived.`;
		case 'bad-position':
			return `“${seen}” is no position: write a whole number.`;
		case 'bad-address':
			return `“${seen}” is no address: it begins with a slash.`;
		case 'no-title':
		case 'nothing-there':
			return `Nothing has the address “${seen}”, and the row has no title for a new item.`;
		case 'too-long':
			return `“${seen} …” is too long.`;
		case 'twice':
			return `“${seen}” stands in the table twice.`;
		case 'needs-file':
			return `A new ${seen} comes with its file: upload it first, then describe it here by its address.`;
		case 'needs-home':
			return `A ${seen} lives in something: make it there first.`;
		case 'wrong-home':
			return `A ${seen} cannot live on a shelf.`;
		case 'another-kind':
			return `What has this address is no ${seen}.`;
		case 'reserved-address':
			return `“${seen}” cannot be the address of an item.`;
		case 'bad-target':
			return `“${seen}” is no web address.`;
		case 'no-link':
			return `Only a link leads to “${seen}”: write link as its kind, or leave the target out.`;
		case 'not-ready':
			return `“${seen}” is not prepared yet, so it cannot be published.`;
		default:
			return code satisfies never;
	}
}
