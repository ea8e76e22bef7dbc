/**
 * What members of staff may do. A role is a set of permissions with a name; owners hold all of them.
 *
 * Every address of the Desk stands in one table with what it needs, so that a page, its actions, the menu and the command
 * field cannot disagree. Example: a bookkeeper, who may see sales, opens an order, and gives no money back.
 */
export const PERMISSIONS = [
	'library',
	'fences',
	'releases',
	'plans',
	'codes',
	'members',
	'sales',
	'payments',
	'refunds',
	'settings',
	'staff',
	'open-all'
] as const;
export type Permission = (typeof PERMISSIONS)[number];
export type Permissions = ReadonlySet<Permission>;

export const NO_PERMISSIONS: Permissions = new Set();
export const ALL_PERMISSIONS: Permissions = new Set(PERMISSIONS);

/** Whoever may do one of these. */
type AnyOf = readonly Permission[];

interface Area {
	needs: AnyOf;
	/** Actions that need something else. */
	actions?: Readonly<Record<string, AnyOf>>;
	/** What is below it that needs something else, by its name. */
	below?: Readonly<Record<string, Area>>;
}

const ANYBODY: AnyOf = PERMISSIONS;
export const WHOEVER_LOOKS: AnyOf = ['library', 'fences', 'releases', 'members'];
const WHOEVER_MOVES_ACCESS: AnyOf = ['library', 'fences', 'releases', 'plans', 'settings'];

const DESK: Area = {
	needs: ANYBODY,
	actions: { again: ['library', 'members', 'sales', 'settings'], answer: ['payments'], sent: ['payments'] },
	below: {
		library: { needs: ['library'], actions: { plan: ['fences'] } },
		plans: { needs: ['plans'] },
		fences: { needs: ['fences'] },
		codes: { needs: ['codes'] },
		releases: { needs: ['releases'] },
		members: { needs: ['members'] },
		sales: {
			needs: ['sales'],
			actions: {
				refund: ['refunds'],
				postal: ['members'],
				steer: ['members'],
				move: ['members'],
				answer: ['payments']
			}
		},
		mail: {
			needs: ['members', 'settings'],
			actions: { now: ['members'], all: ['members'], be: ['members'] },
			below: {
				returned: { needs: ['members'] },
				words: { needs: ['settings'] },
				sender: { needs: ['settings'] }
			}
		},
		insight: { needs: ['sales'] },
		/** Whoever buys there opens what is sold, as whoever gives access does. */
		practice: { needs: ['members'] },
		check: {
			needs: WHOEVER_LOOKS,
			below: { 'item.csv': { needs: ['members'] }, 'member.csv': { needs: ['members'] } }
		},
		'other-side': { needs: WHOEVER_LOOKS },
		changes: { needs: WHOEVER_MOVES_ACCESS },
		rehearsals: { needs: WHOEVER_MOVES_ACCESS },
		find: { needs: ANYBODY },
		/** Of a table that somebody has sent, by a key of theirs. */
		progress: { needs: ['library', 'members'] },
		pieces: { needs: ANYBODY },
		uploads: { needs: ['library'] },
		settings: {
			needs: ['settings'],
			below: { staff: { needs: ['staff'] }, told: { needs: ['library', 'members', 'sales'] } }
		}
	}
};

/**
 * Whether somebody may open an address of the Desk, or send a form there.
 * @param path below and including `/desk`; an area that the table does not know is nobody's
 * @param action the name of the form's action; `null` where there is none
 */
export function mayAt(held: Permissions, path: string, action: string | null = null): boolean {
	const [first, ...names] = path.split('/').filter((name) => name !== '');
	if (first !== 'desk') return false;
	let area: Area = DESK;
	for (const name of names) {
		const next: Area | undefined = Object.hasOwn(area.below ?? {}, name) ? area.below?.[name] : undefined;
		if (next) area = next;
		else if (area === DESK) return false;
		else break;
	}
	return mayAny(held, area.needs) && (action === null || mayAny(held, area.actions?.[action] ?? area.needs));
}

/** Every address that the table knows and somebody may open, the Desk itself first. */
export function areasOf(held: Permissions): string[] {
	const found: string[] = [];
	const add = (path: string, { needs, below = {} }: Area) => {
		if (mayAny(held, needs)) found.push(path);
		for (const [name, area] of Object.entries(below)) add(`${path}/${name}`, area);
	};
	add('/desk', DESK);
	return found;
}

/** Areas that the practice book has of its own: of all others it shows what the site's are, where nobody practises. */
const PRACTISED: ReadonlySet<string> = new Set([
	...['sales', 'insight', 'members', 'practice'],
	...['find', 'news', 'pieces', 'progress']
]);
/** What Today shows of another area. */
const OF_TODAY = '/desk/releases/coming';
/** What is the site's all the same. */
const OF_SITE = ['/desk/members/labels', '/desk/members/import'];

/** Whether an address of the Desk is open while somebody practises: people and sales, and nothing that the site has, too. */
export function isPractised(path: string): boolean {
	const [first, area] = path.split('/').filter((name) => name !== '');
	if (first !== 'desk') return false;
	return (
		area === undefined ||
		path === OF_TODAY ||
		(PRACTISED.has(area) && !OF_SITE.some((one) => path === one || path.startsWith(`${one}/`)))
	);
}

export function mayAny(held: Permissions, needs: AnyOf): boolean {
	return needs.some((one) => held.has(one));
}

/** Reads what was kept or sent: what is no permission is left out. */
export function readPermissions(names: readonly string[]): Permission[] {
	return PERMISSIONS.filter((one) => names.includes(one));
}
