import { describe, expect, it } from 'vitest';
import { ALL_PERMISSIONS, areasOf } from '$core/staff/permissions';
import { placesFor } from './desk-places';

const ALL = areasOf(ALL_PERMISSIONS);
const found = (text: string, areas = ALL, hasClock = true) =>
	placesFor(text, areas, hasClock).map(({ label }) => label);

describe('places of the Desk', () => {
	it.each([
		['', []],
		['new pl', ['New plan']],
		['settings', ['Settings']],
		['currency', ['Currency for new prices']],
		[
			'mails',
			[
				'Mails that came back',
				'Words of mails',
				'Mails come from',
				'Mails to you',
				'Language of the front and of mails',
				'Mails about who joins and leaves'
			]
		],
		['check', ['Check access', 'Checkouts elsewhere']],
		['MOVE the CLOCK', ['Move the clock']],
		['mem', ['Members', 'Add a member', 'Bring members in by a table', 'Labels on members']],
		['cod', ['Codes', 'Make codes', 'What earns', 'A code when signing in']],
		['voucher', ['Make codes']],
		['wren alder', []]
	])('by “%s”', (text, labels) => {
		expect(found(text)).toEqual(labels);
	});

	it('are those that somebody may open, and there is no clock where it cannot be moved', () => {
		const support = areasOf(new Set(['members'] as const));
		expect(found('new', support)).toEqual([]);
		expect(found('members', support)).toContain('Members');
		expect(found('move clock', ALL, false)).toEqual([]);
	});
});
