/** The clock school: what it sells, and who came and went in half a year. All of it is invented. */

export const SITE = {
	siteName: 'Fernhollow Clock School',
	statementName: 'FERNHOLLOW CLOCKS',
	senderEmail: 'desk@fernhollow.example',
	zone: 'Europe/Vienna',
	currency: 'EUR',
	defaultNotice: 'This part of the workshop is for members. Choose a plan, and it opens at once.'
};

export const OWNER = {
	name: 'Ottilie Fern',
	email: 'ottilie@fernhollow.example',
	password: 'gear train of four'
};

/** People of the scenario who have a password; the others sign in by mail. */
export const MEMBER = { email: 'wren.alder@mail.example', password: 'pendulum in a draught' };
export const LAPSED = { email: 'jasper.quill@mail.example', password: 'mainspring let down' };

export interface DemoPlan {
	key: string;
	name: string;
	lines: string[];
	minor: number;
	unit: 'month' | 'year';
}

export const PLANS: readonly DemoPlan[] = [
	{
		key: 'apprentice',
		name: 'Apprentice',
		lines: ['The pendulum clock from strip to strike, lessons one to three', 'A new film every month'],
		minor: 900,
		unit: 'month'
	},
	{
		key: 'journeyman',
		name: 'Journeyman',
		lines: [
			'Everything the Apprentice has',
			'The strike train and the oiling bench',
			'Questions answered on Fridays'
		],
		minor: 1800,
		unit: 'month'
	},
	{
		key: 'patron',
		name: 'Patron',
		lines: ['Everything, for a year at once', 'Your name on the workshop door'],
		minor: 18_000,
		unit: 'year'
	}
];

export interface DemoVideo {
	file: string;
	title: string;
	description: string;
	/** Plans that open it; none: anyone. */
	plans: string[];
	notice: string | null;
}

const ALL = ['apprentice', 'journeyman', 'patron'];

export const VIDEOS: readonly DemoVideo[] = [
	{
		file: 'welcome',
		title: 'Welcome to the workshop',
		description:
			'What we do here, what you need on your bench, and in which order to watch.\n\nNo tools are needed for this one.',
		plans: [],
		notice: null
	},
	{
		file: 'strip',
		title: 'Strip the movement without losing a screw',
		description:
			'Let down the mainspring first. Always.\n\nThen the order of the plates, a tray for each train, and a photograph before every screw.',
		plans: ALL,
		notice: 'The first lesson of the pendulum clock. Any plan opens it.'
	},
	{
		file: 'escapement',
		title: 'The escapement, slowly',
		description:
			'Lock, drop, impulse: the anchor at a tenth of its speed.\n\nHow to see too little lock, and what to do about it.',
		plans: ALL,
		notice: null
	},
	{
		file: 'pendulum',
		title: 'Pendulum: length, rate and patience',
		description: 'A turn of the rating nut is half a minute a day. Write it down, wait a day, turn again.',
		plans: ALL,
		notice: null
	},
	{
		file: 'strike',
		title: 'The strike train from warning to last blow',
		description: 'Why it strikes four at three, and how to set the rack.',
		plans: ['journeyman', 'patron'],
		notice: 'The strike train belongs to the second year: the Journeyman and the Patron have it.'
	},
	{
		file: 'oil',
		title: 'Oil: where, and how little',
		description: 'Pivots, pallets, never the leaves. A drop too much is worse than none.',
		plans: ['journeyman', 'patron'],
		notice: null
	}
];

export interface DemoMember {
	name: string;
	email: string;
	password: string;
	plan: string;
	/** Days before today. */
	joined: number;
	card: 'works' | 'fails-on-renewal';
	/** A first try with a card that is declined. */
	stumbles: boolean;
	cancels: {
		daysAgo: number;
		reason: 'too-expensive' | 'no-time' | 'finished' | 'not-what-i-expected';
		words: string;
	} | null;
	refunded: { daysAgo: number; why: string } | null;
}

const FIRST =
	'Wren Jasper Linnea Tobias Mirren Casimir Odette Fergus Isolde Bram Petra Anselm Greta Rufus Salome Hollis Verity Lorcan Edda Matthis Junia Ivo Calla Piers Noor Sverre Tamsin Elio Brigid Anton Maren Oskar Delphine Rowan Sunniva Marek Leonie Cormac Astrid Felix'.split(
		' '
	);
const LAST =
	'Alder Quill Brandt Hawthorn Sedge Vogel Larkin Moss Thorne Weir Sandoval Reed Ashdown Kestrel Marlow Pike Teasel Drummond Falk Birch Harrow Stoat Winter Lindqvist Crane Dunmore Heath Sorrel Garnet Plover Flint Roe Tansy Vale Osier Hazel Bracken Tarn Elm Ryde'.split(
		' '
	);

const CANCELS = [
	{ reason: 'no-time', words: 'The bench is full until spring.' },
	{ reason: 'finished', words: 'My clock runs. Thank you.' },
	{ reason: 'too-expensive', words: '' },
	{ reason: 'not-what-i-expected', words: 'I hoped for wrist watches.' }
] as const;

/** Forty members: most of them stay, some cancel, some lapse, two get their money back. */
export const MEMBERS: readonly DemoMember[] = FIRST.map((first, i) => {
	const last = LAST[i] ?? 'Fern';
	const email = `${first}.${last}@mail.example`.toLowerCase();
	const joined = 182 - Math.round((i * 181) / FIRST.length);
	const cancel = i % 7 === 4 && joined > 20 ? (CANCELS[(i - 4) / 7] ?? CANCELS[0]) : null;
	const isLapsed = email === LAPSED.email || (i % 9 === 5 && joined > 45);
	return {
		name: `${first} ${last}`,
		email,
		password: email === MEMBER.email ? MEMBER.password : email === LAPSED.email ? LAPSED.password : '',
		plan:
			email === LAPSED.email
				? 'apprentice'
				: (['journeyman', 'apprentice', 'apprentice', 'patron', 'journeyman'][i % 5] ?? 'apprentice'),
		joined,
		card: isLapsed ? 'fails-on-renewal' : 'works',
		stumbles: i % 11 === 3,
		cancels: cancel && !isLapsed ? { daysAgo: Math.max(2, joined - 40), ...cancel } : null,
		refunded: i === 12 || i === 27 ? { daysAgo: Math.max(1, joined - 5), why: 'Bought by mistake' } : null
	};
});
