import type { Permission } from '$core/staff/permissions';

/** What each permission lets somebody do. */
export const PERMISSION_WORDS: Record<Permission, string> = {
	library: 'Bring in, describe and publish what stands in the Library',
	fences: 'Put up and change fences, and let plans cross them',
	releases: 'Change what opens when',
	plans: 'Make plans, and change what they cost',
	codes: 'Make codes',
	members: 'See members, add them, give and end what they hold, delete them',
	sales: 'See sales',
	payments: 'Say that money came in which is paid without a card, and let in who paid',
	refunds: 'Give money back',
	settings: 'Change the site’s settings, the player and protection, and make API keys',
	staff: 'Say who works here, and what each role may do',
	'open-all': 'Open everything on the front, whatever fences say'
};
