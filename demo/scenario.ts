/** The clock school: what it sells, and who came and went in half a year. All of it is invented. */

import { NO_LEGAL_LINKS } from '../src/core/looks/legal';
import { UNION_RATES } from '../src/core/billing/union-rates';
import { USUAL_COLLECTING } from '../src/core/billing/agreement-facts';
import { fromPlain, type RichText } from '../src/core/text/rich-text';
import { NO_DETERRENTS } from '../src/core/media/deterrents';
import type { SiteSettings } from '../src/server/db/schema/running';

export const SITE = {
	siteName: 'Fernhollow Clock School',
	statementName: 'FERNHOLLOW CLOCKS',
	seller: {
		name: 'Fernhollow Clock School',
		address: '3 Escapement Lane\n9130 Fernhollow',
		taxNumber: 'FH 4711/0815'
	},
	senderEmail: 'desk@fernhollow.example',
	zone: 'Europe/Vienna',
	currency: 'EUR',
	turnAway: {
		answer: {
			kind: 'notice',
			text: [
				{
					type: 'paragraph',
					content: [
						{ type: 'text', text: 'This part of the workshop is for members. It opens with ' },
						{ type: 'chip', name: 'plans' },
						{ type: 'text', text: '.' }
					]
				}
			]
		},
		cases: {
			'too-early': {
				kind: 'notice',
				text: [
					{
						type: 'paragraph',
						content: [
							{ type: 'text', text: 'One step after the other: this opens for you on ' },
							{ type: 'chip', name: 'opens-on' },
							{ type: 'text', text: '.' }
						]
					}
				]
			}
		},
		teaser: { kind: 'nothing' }
	},
	limits: { uses: { count: 5, per: 'period' }, minutes: 'none', hours: 'none' },
	releaseHour: 8,
	language: 'en' as const,
	lapseAfterDays: 2,
	deterrents: NO_DETERRENTS,
	mayPause: true,
	remindsAfterHours: 24,
	staffNeedCode: false,
	legal: { ...NO_LEGAL_LINKS, contact: 'mailto:school@fernhollow.example' },
	payBy: ['card', 'offline'],
	offline: {
		name: 'By bank transfer',
		how: 'To Fernhollow Clock School\nAccount FH-0000-4711-EXAMPLE\nat the Bank of Fernhollow'
	},
	collecting: USUAL_COLLECTING,
	looks: { colour: null },
	tax: {
		...{ way: 'included', home: 'DE', isHomeRateInUnion: false },
		rates: UNION_RATES.map((rate) => ({ ...rate, name: 'VAT' }))
	}
} satisfies SiteSettings;

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
	rung: number;
	/** What its price is called beside the one for a year; none: it has one price. */
	byYear?: { name: string; minor: number; yearName: string };
}

export const PLANS: readonly DemoPlan[] = [
	{
		key: 'apprentice',
		name: 'Apprentice',
		lines: ['The pendulum clock from strip to strike, lessons one to three', 'A new film every month'],
		minor: 900,
		byYear: { name: 'By the month', minor: 9000, yearName: 'By the year, two months for nothing' },
		rung: 1,
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
		rung: 2,
		unit: 'month'
	},
	{
		key: 'patron',
		name: 'Patron',
		lines: ['Everything, for a year at once', 'Your name on the workshop door'],
		minor: 18_000,
		rung: 3,
		unit: 'year'
	}
];

export interface DemoVideo {
	file: string;
	title: string;
	text: string;
	/** Plans that open it; none: anyone. */
	plans: string[];
	notice: string | null;
	category: string;
	tags: string[];
}

const ALL = ['apprentice', 'journeyman', 'patron'];

export const VIDEOS: readonly DemoVideo[] = [
	{
		file: 'welcome',
		category: 'Beginnings',
		tags: [],
		title: 'Welcome to the workshop',
		text: 'What we do here, what you need on your bench, and in which order to watch.\n\nNo tools are needed for this one.',
		plans: [],
		notice: null
	},
	{
		file: 'strip',
		category: 'Going train',
		tags: ['pendulum clock'],
		title: 'Strip the movement without losing a screw',
		text: 'Let down the mainspring first. Always.\n\nThen the order of the plates, a tray for each train, and a photograph before every screw.',
		plans: ALL,
		notice: 'The first lesson of the pendulum clock. Any plan opens it.'
	},
	{
		file: 'escapement',
		category: 'Going train',
		tags: ['pendulum clock', 'slow motion'],
		title: 'The escapement, slowly',
		text: 'Lock, drop, impulse: the anchor at a tenth of its speed.\n\nHow to see too little lock, and what to do about it.',
		plans: ALL,
		notice: null
	},
	{
		file: 'pendulum',
		category: 'Going train',
		tags: ['pendulum clock'],
		title: 'Pendulum: length, rate and patience',
		text: 'A turn of the rating nut is half a minute a day. Write it down, wait a day, turn again.',
		plans: ALL,
		notice: null
	},
	{
		file: 'strike',
		category: 'Strike train',
		tags: ['pendulum clock'],
		title: 'The strike train from warning to last blow',
		text: 'Why it strikes four at three, and how to set the rack.',
		plans: ['journeyman', 'patron'],
		notice: 'The strike train belongs to the second year: the Journeyman and the Patron have it.'
	},
	{
		file: 'oil',
		category: 'Beginnings',
		tags: ['slow motion'],
		title: 'Oil: where, and how little',
		text: 'Pivots, pallets, never the leaves. A drop too much is worse than none.',
		plans: ['journeyman', 'patron'],
		notice: null
	}
];

export interface DemoSection {
	title: string;
	lessons: DemoLesson[];
}

export interface DemoLesson {
	title: string;
	text: string;
	/** The film that it shows above its words. */
	film?: string;
}

export const COURSE = {
	title: 'The Pendulum Clock from Strip to Strike',
	address: '/courses/pendulum-clock',
	text: 'Six evenings at the bench: one clock, taken apart and put together again.\n\nEach lesson opens a week after the one before, so that there is time to do it.',
	sections: [
		{
			title: 'Taking it apart',
			lessons: [
				{
					title: 'The tray, the light and the first screw',
					text: 'Lay out three trays and label them. Photograph before every screw.\n\nThe light stands left for those who work with the right hand.'
				},
				{
					title: 'Letting down the mainspring',
					film: 'strip',
					text: 'A let-down key that fits, a firm hand, and no hurry.\n\nCount the clicks; write the number down.'
				},
				{
					title: 'Between the plates',
					text: 'Lift the upper plate straight. What falls out was never seated.\n\nA tray for each train.'
				}
			]
		},
		{
			title: 'Putting it together',
			lessons: [
				{
					title: 'Pivots, polished and measured',
					text: 'A pivot is a mirror or it is a file.\n\nMeasure before and after; a hundredth is all you may take.'
				},
				{
					title: 'Depthing by eye and by ear',
					text: 'Turn the wheel slowly and listen. A rough mesh speaks.\n\nThen look for the light between the teeth.'
				},
				{
					title: 'In beat',
					film: 'pendulum',
					text: 'Left and right sound alike, or it will not run the week.\n\nBend the crutch, never the anchor.'
				}
			]
		}
	] as DemoSection[]
};

export const PAGES = {
	suppliers: {
		title: 'Suppliers',
		address: '/suppliers',
		text: [
			...fromPlain(
				'Where we buy brass, steel and oil, and what we have stopped buying. Kept up to date every quarter.'
			),
			{ type: 'heading', content: [{ type: 'text', text: 'By post' }] },
			{
				type: 'list',
				isOrdered: false,
				items: [
					[
						{ type: 'text', text: 'Brass and steel', isBold: true, href: '/suppliers/metal' },
						{ type: 'text', text: ': rod, sheet and wheel blanks, in small orders.' }
					],
					[
						{ type: 'text', text: 'Oil', isBold: true },
						{ type: 'text', text: ': two grades are enough, and a bottle lasts a bench three years.' }
					],
					[
						{ type: 'text', text: 'Mainsprings', isBold: true },
						{ type: 'text', text: ': measure width, strength and length before asking.' }
					]
				]
			},
			{ type: 'heading', content: [{ type: 'text', text: 'In person' }] },
			{
				type: 'paragraph',
				content: [
					{ type: 'text', text: 'Bring the old part to ' },
					{ type: 'text', text: 'the workshop', href: '/visit' },
					{ type: 'text', text: ' and compare it with what is in the drawers.' }
				]
			}
		] satisfies RichText as RichText
	},
	brass: {
		title: 'Brass and steel by post',
		address: '/suppliers/metal',
		text: fromPlain('Rod, sheet and wheel blanks, with what each of them asks for a small order.')
	},
	visit: {
		title: 'How to find the workshop',
		address: '/visit',
		text: fromPlain('Up the lane behind the mill, and in by the green door.')
	}
};

export const CODES = { name: 'Spring clock fair', code: 'FAIR2026', days: 14 };

/** A code that takes something off; some who joined since have used it. */
export const OPEN_DAY = { name: 'Open day at the bench', code: 'OPENDAY', percent: 25, payments: 3 };
const OPEN_DAY_SINCE_DAYS = 40;

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
	/** That takes something off; empty: none. */
	code: string;
	/** Where they are, and their number where they buy for a business. */
	country: string;
	taxId: string;
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
		country: i % 8 === 3 ? 'AT' : i % 8 === 5 ? 'FR' : i % 16 === 7 ? 'US' : 'DE',
		// Who repairs clocks for a living, in Austria.
		taxId: i % 16 === 11 ? 'ATU12345675' : '',
		code: joined < OPEN_DAY_SINCE_DAYS && i % 3 === 0 ? OPEN_DAY.code : '',
		cancels: cancel && !isLapsed ? { daysAgo: Math.max(2, joined - 40), ...cancel } : null,
		refunded: i === 12 || i === 27 ? { daysAgo: Math.max(1, joined - 5), why: 'Bought by mistake' } : null
	};
});

/** Labels on members, and who has them: nobody whose sign-in is for whoever tries the demo. */
const OTHERS = MEMBERS.filter(({ email }) => email !== MEMBER.email && email !== LAPSED.email);
export const LABELS = {
	'Bench crew': OTHERS.filter((_, i) => i % 13 === 6).map(({ email }) => email),
	'At the fair': OTHERS.filter((_, i) => i % 5 === 2).map(({ email }) => email)
};

/** Somebody who has ordered, pays by transfer, and has not been let in yet. */
export const WAITING = { name: 'Hazel Thorn', email: 'hazel.thorn@mail.example', plan: 'journeyman' };
