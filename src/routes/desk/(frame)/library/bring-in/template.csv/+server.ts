import { COLUMNS } from '$core/library/table';
import { csv } from '$server/http/csv';
import type { RequestHandler } from './$types';

const EXAMPLES: Partial<Record<(typeof COLUMNS)[number], string>>[] = [
	{
		kind: 'page',
		title: 'Suppliers',
		address: '/suppliers',
		description: 'Brass, steel and oil.',
		tags: 'brass; steel'
	},
	{
		kind: 'link',
		title: 'Bench night',
		category: 'Evenings',
		base: 'closed',
		target: 'https://meet.example/bench'
	}
];

/** A table to begin with: all columns, and two rows that show what goes into them. */
export const GET: RequestHandler = () =>
	csv('items', [[...COLUMNS], ...EXAMPLES.map((row) => COLUMNS.map((column) => row[column] ?? ''))]);
