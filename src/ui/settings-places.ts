/** The sections of the Settings and what stands in each, found by typing; the command field knows them, too. */
import { finder, plainText } from '$core/text/finding';

export interface SettingsSection {
	href: string;
	label: string;
	/** What stands in it. */
	about: string;
	/** Other words for it. */
	also?: string;
	/** The address that somebody has to be allowed to open. */
	needs: string;
}

const SETTINGS = '/desk/settings';

export const CLOCK_SECTION = `${SETTINGS}/clock`;

const SECTIONS: readonly SettingsSection[] = [
	{
		href: SETTINGS,
		label: 'Site',
		about: 'Name, time zone, language, imprint and terms',
		needs: SETTINGS
	},
	{
		href: `${SETTINGS}/looks`,
		label: 'Looks',
		about: 'The colour of the front',
		needs: SETTINGS
	},
	{
		href: `${SETTINGS}/access`,
		label: 'Access',
		about: 'What others get, limits, lapses, hour of release',
		needs: SETTINGS
	},
	{
		href: `${SETTINGS}/media`,
		label: 'Watching and protection',
		about: 'Ways of watching, places, sites that embed, overlay',
		needs: SETTINGS
	},
	{
		href: `${SETTINGS}/told`,
		label: 'Mails to you',
		about: 'Who joined, who left, what went wrong',
		needs: `${SETTINGS}/told`
	},
	{
		href: `${SETTINGS}/money`,
		label: 'Money',
		about: 'Currency, ways to pay, card statements, declined cards',
		needs: SETTINGS
	},
	{
		href: `${SETTINGS}/tax`,
		label: 'Tax',
		about: 'In prices or on top, rates by country',
		needs: SETTINGS
	},
	{
		href: `${SETTINGS}/staff`,
		label: 'Staff and roles',
		about: 'Who works here, and what they may do',
		needs: `${SETTINGS}/staff`
	},
	{
		href: `${SETTINGS}/programs`,
		label: 'Programs',
		about: 'Keys for what asks from outside, and who is told what happens',
		needs: SETTINGS
	},
	{ href: CLOCK_SECTION, label: 'Demo clock', about: 'Only the demo has one', needs: SETTINGS }
];

export interface SettingPlace {
	label: string;
	/** The section, and the field in it. */
	href: string;
	/** Other words for it. */
	also: string;
}

/** `[section, what it is called there, its id on the page, other words for it]` */
const SETTINGS_IN: readonly [string, string, string, string][] = [
	['', 'Name of the site', 'siteName', 'title publisher'],
	['', 'Time zone', 'zone', 'clock date'],
	['', 'Language of the front and of mails', 'language', 'german english deutsch'],
	['/looks', 'Colour of the front', 'colour', 'color brand accent theme buttons links'],
	['/access', 'What those get who are turned away', 'turnAway', 'notice absent sent teaser'],
	['/access', 'Limits of a fence “as the site”', 'limits', 'uses downloads minutes'],
	['/access', 'Hour of release', 'releaseHour', 'opens time of day drip'],
	['/access', 'A gap is a lapse from', 'lapseAfterDays', 'days without plan'],
	['/media', 'Sites that may show films in a frame', 'embedSites', 'embed hosts outside'],
	['/media', 'Countries that are blocked', 'blockedCountries', 'places kept out'],
	['/media', 'Networks that are blocked', 'blockedNetworks', 'ip addresses ranges kept out'],
	['/media', 'What is laid over the picture', 'hasOverlay', 'overlay watermark name'],
	['/media', 'Links that work only from one network', 'tiesLinks', 'downloads ip'],
	['/media', 'Ways of watching', 'ways', 'player controls speed skip'],
	['/told', 'Mails about who joins and leaves', 'joined', 'notify told daily at once never owner'],
	['/money', 'Currency for new prices', 'currency', 'euro dollar'],
	['/money', 'Name on card statements', 'statementName', 'bank'],
	['/money', 'Who sells, and where', 'sellerName', 'seller address tax number receipt invoice'],
	[
		'/money',
		'Reminders of what was begun to be bought',
		'remindsAfterHours',
		'abandoned cart left remind mail'
	],
	['/money', 'Cards that are declined', 'retryDays', 'retry again dunning grace failed'],
	['/tax', 'Whether prices have tax in them', 'way', 'vat included added on top'],
	['/tax', 'Where you are, for the tax', 'home', 'vat country union oss'],
	['/tax', 'Rates of tax', 'rates', 'vat percent country'],
	['/programs', 'Programs that are told', 'told', 'webhook hook mailing list joined left bought csv'],
	['/programs', 'Checkouts elsewhere', 'checkouts', 'outside webhook purchase api'],
	['/staff', 'Who works here', 'people', 'owner team'],
	['/staff', 'A code when signing in', 'code', 'second factor two factor authenticator phone security'],
	['/staff', 'Invite somebody to the staff', 'email', 'add team'],
	['/staff', 'Roles', 'roles', 'permissions editor support bookkeeper'],
	['/programs', 'Keys for programs', 'keyName', 'api token'],
	['/clock', 'Move the clock', 'days', 'time demo forward']
];

/** Sections that somebody may open. */
export function settingsSections(areas: readonly string[], hasMovableClock: boolean): SettingsSection[] {
	return SECTIONS.filter(
		({ href, needs }) => areas.includes(needs) && (href !== CLOCK_SECTION || hasMovableClock)
	);
}

/** Every setting that somebody may open, in the order of the sections. */
export function settingPlaces(areas: readonly string[], hasMovableClock: boolean): SettingPlace[] {
	const open = settingsSections(areas, hasMovableClock);
	return SETTINGS_IN.filter(([section]) => open.some(({ href }) => href === SETTINGS + section)).map(
		([section, label, id, also]) => ({ label, href: `${SETTINGS}${section}#${id}`, also })
	);
}

/** Settings that hold every word that was typed, or but for one wrong letter; none for nothing. */
export function findSettings(
	text: string,
	areas: readonly string[],
	hasMovableClock: boolean
): (SettingPlace & { section: string })[] {
	if (text.trim() === '') return [];
	const isFound = finder(text);
	const open = settingsSections(areas, hasMovableClock);
	return settingPlaces(areas, hasMovableClock)
		.map((place) => ({ ...place, section: open.find(({ href }) => href === hrefOf(place))?.label ?? '' }))
		.filter(({ label, also, section }) => isFound(plainText(`${label} ${also} ${section}`)));
}

function hrefOf({ href }: SettingPlace): string {
	return href.split('#')[0] ?? href;
}
