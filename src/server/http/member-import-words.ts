import type { MemberRowProblem } from '$core/members/table';
import type { TriedMembers } from '../usecases/accounts/import-members';

export function membersTableWords({ code, seen }: Extract<TriedMembers, { ok: false }>): string {
	switch (code) {
		case 'empty':
			return 'There is no row in it. The first row names the columns, and each further one is a member.';
		case 'no-columns':
			return `The first row must name the columns, among them email. It says: ${seen}. Say below what they are.`;
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

export function memberRowWords({ code, column, seen }: MemberRowProblem): string {
	switch (code) {
		case 'no-email':
			return 'A member needs an e-mail address.';
		case 'bad-email':
			return `“${seen}” is no e-mail address.`;
		case 'twice':
			return `“${seen}” stands in the table twice.`;
		case 'too-long':
			return `“${seen} …” is too long.`;
		case 'bad-date':
			return `“${seen}” is no date: write 2027-01-31, with a time behind it if need be (${column}).`;
		case 'needs-plan':
			return `“${seen}” is a date of a plan, and the row names none.`;
		case 'ends-before-it-begins':
			return `“${seen}” is not after its beginning.`;
		case 'unknown-plan':
			return `No plan is called “${seen}”.`;
		case 'is-staff':
			return `“${seen}” works at the Desk, and is no member.`;
		default:
			return code satisfies never;
	}
}
