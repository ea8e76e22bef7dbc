import { MEMBER_COLUMNS, type MemberColumn } from '$core/members/table';
import { csv } from '$server/http/csv';
import { planNames } from '$server/reads/desk/plans';
import type { RequestHandler } from './$types';

/** A table to begin with: all columns, and two rows that show what goes into them. */
export const GET: RequestHandler = async ({ locals: { app } }) => {
	const [plan] = await planNames(app);
	const examples: Partial<Record<MemberColumn, string>>[] = [
		{
			email: 'wren.alder@mail.example',
			name: 'Wren Alder',
			plan: plan?.name ?? '',
			...(plan ? { joined: '2024-03-01' } : {}),
			labels: 'bench; evening'
		},
		{
			email: 'jasper.quill@mail.example',
			name: 'Jasper Quill',
			plan: plan?.name ?? '',
			...(plan ? { until: '2099-12-31' } : {})
		}
	];
	return csv('members', [
		[...MEMBER_COLUMNS],
		...examples.map((row) => MEMBER_COLUMNS.map((column) => row[column] ?? ''))
	]);
};
