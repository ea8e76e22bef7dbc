/** Areas of the Desk and what can be begun in them, for the command field: found by the beginnings of their words. */

import { settingPlaces, settingsSections } from './settings-places';

export interface DeskPlace {
	label: string;
	href: string;
	/** Other words for it. */
	also?: string;
}

/** With the address that somebody has to be allowed to open. */
interface Guarded extends DeskPlace {
	needs: string;
}

const AREAS: readonly Guarded[] = [
	['Today', '/desk'],
	['Library', '/desk/library'],
	['Plans', '/desk/plans'],
	['Codes', '/desk/codes'],
	['Fences', '/desk/fences'],
	['Releases', '/desk/releases'],
	['Members', '/desk/members'],
	['Sales', '/desk/sales'],
	['Mail', '/desk/mail'],
	['Insight', '/desk/insight'],
	['Settings', '/desk/settings']
].map(([label = '', href = '']) => ({ label, href, needs: href }));

const LIBRARY = '/desk/library';

const OTHERS: readonly Guarded[] = [
	{ label: 'New plan', href: '/desk/plans/new', needs: '/desk/plans', also: 'price sell subscription' },
	{ label: 'New fence', href: '/desk/fences/new', needs: '/desk/fences', also: 'close protect' },
	{ label: 'New course', href: '/desk/library/new?kind=course', needs: LIBRARY },
	{ label: 'New lesson', href: '/desk/library/new?kind=lesson', needs: LIBRARY },
	{ label: 'New page', href: '/desk/library/new?kind=page', needs: LIBRARY },
	{ label: 'Upload files', href: LIBRARY, needs: LIBRARY, also: 'film video audio drop' },
	{ label: 'Bring in', href: '/desk/library/bring-in', needs: LIBRARY, also: 'import table csv inbox' },
	{ label: 'Categories and tags', href: '/desk/library/labels', needs: LIBRARY, also: 'labels' },
	{ label: 'Make codes', href: '/desk/codes', needs: '/desk/codes', also: 'voucher' },
	{ label: 'Coming releases', href: '/desk/releases#coming', needs: '/desk/releases', also: 'calendar' },
	{
		label: 'Changes of access',
		href: '/desk/changes',
		needs: '/desk/changes',
		also: 'undo take back history'
	},
	{ label: 'Add a member', href: '/desk/members', needs: '/desk/members', also: 'invite give' },
	{
		label: 'Bring members in by a table',
		href: '/desk/members/import',
		needs: '/desk/members',
		also: 'import csv'
	},
	{
		label: 'What earns',
		href: '/desk/insight/earned',
		needs: '/desk/insight',
		also: 'revenue plan price code'
	},
	{ label: 'Who stays', href: '/desk/insight/stays', needs: '/desk/insight', also: 'retention cohort churn' },
	{
		label: 'Declined cards made good',
		href: '/desk/insight/outcomes',
		needs: '/desk/insight',
		also: 'trial failed'
	},
	{
		label: 'Subscriptions and instalments',
		href: '/desk/sales/agreements',
		needs: '/desk/sales',
		also: 'recurring cancel pause end'
	},
	{ label: 'Orders', href: '/desk/sales/orders', needs: '/desk/sales', also: 'purchases bought' },
	{ label: 'Tax by country', href: '/desk/sales/tax', needs: '/desk/sales', also: 'vat report quarter' },
	{
		label: 'Mails that came back',
		href: '/desk/mail/returned',
		needs: '/desk/mail/returned',
		also: 'bounce complaint returned undelivered'
	},
	{
		label: 'Words of mails',
		href: '/desk/mail/words',
		needs: '/desk/mail/words',
		also: 'texts subject invitation receipt templates'
	},
	{
		label: 'Mails come from',
		href: '/desk/mail/sender#senderEmail',
		needs: '/desk/mail/sender',
		also: 'sender address spf dkim dmarc dns domain spam junk signed key arrive'
	},
	{
		label: 'Practise buying',
		href: '/desk/practice',
		needs: '/desk/practice',
		also: 'test cards made-up purchase try'
	},
	{ label: 'Labels on members', href: '/desk/members/labels', needs: '/desk/members' },
	{ label: 'Check access', href: '/desk/check', needs: '/desk/check', also: 'why open' }
];

/**
 * @param areas addresses that somebody may open
 * @returns those of which every typed word begins a word, areas first; none for nothing
 */
export function placesFor(text: string, areas: readonly string[], hasMovableClock: boolean): DeskPlace[] {
	const typed = wordsOf(text);
	if (typed.length === 0) return [];
	return [
		...[...AREAS, ...OTHERS].filter(({ needs }) => areas.includes(needs)),
		...settingsSections(areas, hasMovableClock).filter(
			({ href }) => !AREAS.some((area) => area.href === href)
		),
		...settingPlaces(areas, hasMovableClock)
	].filter(({ label, also }) => {
		const words = wordsOf(`${label} ${also ?? ''}`);
		return typed.every((one) => words.some((word) => word.startsWith(one)));
	});
}

function wordsOf(text: string): string[] {
	return text
		.toLowerCase()
		.split(/[^\p{L}\p{N}]+/u)
		.filter(Boolean);
}
