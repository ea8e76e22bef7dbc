/**
 * The outline of a collection while it is edited: each change is sent as it is made, one after the other, and seen at once.
 * What could not be kept stays in sight with what was typed.
 */
import { SvelteMap } from 'svelte/reactivity';
import { deserialize } from '$app/forms';
import type { ResourceKind } from '$core/access/model';
import type { RehearsalView } from '$core/access/rehearsal-view';
import { inOrder, outline, type Outlined } from '$core/library/outline';
import { movedTo, withMoved, type Direction, type Spot } from '$core/library/outline-moves';
import type { OutlineOf, OutlineRow } from '$core/library/outline-view';
import { refresh } from '$ui/refresh';

/** A row as it is drawn; one that is new has no id of its own yet. */
export interface Entry extends OutlineRow {
	/** Stays when something new gets its id, so that one can go on typing in it. */
	key: string;
	position: number;
	isNew: boolean;
	/** New, and on its way. */
	isSent: boolean;
	/** Why what was typed could not be kept. */
	problem: string;
}

export type Node = Outlined<Entry>;

interface Asked {
	rehearsal: RehearsalView;
	id: string;
	title: string;
	spot: Spot;
}

type Answer = { ok: true; id: string } | { ok: false; problem: string; rehearsal: RehearsalView | null };

const NOT_REACHED = 'There is no connection. What you typed is still here.';
const NOT_UNDERSTOOD = 'This could not be kept. Copy what you typed, then load the page again.';

export class OutlineEditing {
	tree = $state.raw<readonly Node[]>([]);
	/** A move that would change who may open something. */
	asked = $state.raw<Asked | null>(null);
	problem = $state('');
	/** How many changes are on their way. */
	going = $state(0);
	root: Pick<OutlineOf, 'id' | 'kind'> = { id: '', kind: 'course' };
	private given: OutlineOf | null = null;
	private line: Promise<unknown> = Promise.resolve();
	/** Ids that new rows have got meanwhile. */
	private readonly known = new SvelteMap<string, string>();
	private count = 0;

	/** What the server says. It waits while something is on its way, and leaves new rows where they are typed. */
	take(given: OutlineOf): void {
		if (given.id !== this.root.id) {
			this.known.clear();
			this.problem = '';
			this.asked = null;
			this.tree = [];
		}
		this.root = given;
		this.given = given;
		if (this.going > 0) return;
		const keys = new SvelteMap([...this.known].map(([key, id]) => [id, key]));
		const told = given.rows.map((row, position) => ({
			...row,
			key: keys.get(row.id) ?? row.id,
			position,
			isNew: false,
			isSent: true,
			problem: ''
		}));
		let tree: readonly Node[] = outline<Entry>(told, given.id);
		const typed = inOrder(this.tree).filter(({ isNew, id }) => isNew && !this.known.has(id));
		for (const one of typed) {
			const { homeId, after } = this.spotOf(one.id);
			const home = this.idOf(homeId);
			// Where its home has gone meanwhile, what was typed goes to the end.
			const isThere = home === given.id || inOrder(tree).some(({ id }) => id === home);
			const last = tree.at(-1)?.entry.id ?? null;
			const spot = isThere
				? { homeId: home, after: after === null ? null : this.idOf(after) }
				: { homeId: given.id, after: last };
			tree = this.withNew(tree, one, spot);
		}
		this.tree = tree;
	}

	/** All rows, in order. */
	get all(): Entry[] {
		return inOrder(this.tree);
	}

	/** Where something stands now. */
	spotOf(id: string): Spot {
		const find = (nodes: readonly Node[], homeId: string): Spot | null => {
			for (const [n, { entry, inside }] of nodes.entries()) {
				if (entry.id === id) return { homeId, after: nodes[n - 1]?.entry.id ?? null };
				const found = find(inside, entry.id);
				if (found) return found;
			}
			return null;
		};
		return (
			find(this.tree, this.root.id) ?? { homeId: this.root.id, after: this.tree.at(-1)?.entry.id ?? null }
		);
	}

	/** A row for something new. @returns its id here */
	begin(kind: ResourceKind, spot: Spot, title = ''): string {
		const id = `new-${++this.count}`;
		const entry: Entry = {
			id,
			key: id,
			kind,
			title,
			homeId: spot.homeId,
			position: 0,
			state: 'draft',
			publishAt: null,
			assetState: null,
			progress: null,
			seconds: null,
			who: null,
			releases: [],
			isNew: true,
			isSent: false,
			problem: ''
		};
		this.tree = this.withNew(this.tree, entry, spot);
		return id;
	}

	/** Something new that nobody has given a title becomes another kind, or goes. */
	turn(id: string, kind: ResourceKind, spot: Spot): string {
		this.drop(id);
		return this.begin(kind, spot);
	}

	drop(id: string): void {
		const without = (nodes: readonly Node[]): Node[] =>
			nodes.filter(({ entry }) => entry.id !== id).map((node) => ({ ...node, inside: without(node.inside) }));
		this.tree = without(this.tree);
	}

	/** Keeps a title: of what is new, and of what is there. @returns the id that it has then; `null` where it is not kept */
	keep(id: string, title: string): Promise<string | null> {
		const entry = this.all.find((one) => one.id === id);
		if (!entry || title.trim() === '') return Promise.resolve(null);
		if (entry.isSent && entry.title === title) return Promise.resolve(id);
		this.change(id, { title, problem: '', isSent: true });
		if (entry.isSent) return this.send(id, () => ({ do: 'rename', id: this.idOf(id), title }));
		return this.send(id, () => {
			const { homeId, after } = this.spotOf(id);
			return {
				do: 'add',
				kind: entry.kind,
				title,
				home: this.idOf(homeId),
				after: this.keptBefore(homeId, after)
			};
		});
	}

	/** By the keyboard. @returns whether there is such a place */
	move(id: string, direction: Direction): boolean {
		const spot = movedTo(this.tree, this.root, id, direction);
		if (spot) this.put(id, spot);
		return spot !== null;
	}

	put(id: string, spot: Spot): void {
		this.tree = withMoved(this.tree, this.root.id, id, spot);
		const entry = this.all.find((one) => one.id === id);
		// What is not on its way yet is kept where it stands then.
		if (!entry?.isSent) return;
		void this.sendMove(id, entry.title, spot, '');
	}

	/** The yes to what was asked. */
	agree(): void {
		const { asked } = this;
		this.asked = null;
		if (!asked) return;
		this.tree = withMoved(this.tree, this.root.id, asked.id, asked.spot);
		void this.sendMove(asked.id, asked.title, asked.spot, asked.rehearsal.id);
	}

	/** All stays as it was. */
	leave(): void {
		this.asked = null;
		if (this.given) this.take(this.given);
	}

	private sendMove(id: string, title: string, spot: Spot, agreedTo: string): Promise<string | null> {
		const body = () => {
			const { homeId, after } = spot;
			const [home, to] = [this.idOf(homeId), this.keptBefore(homeId, after)];
			return { do: 'move', id: this.idOf(id), home, after: to, agreedTo };
		};
		return this.send(id, body, (rehearsal) => (this.asked = { rehearsal, id, title, spot }));
	}

	/** The nearest before it in its home that is kept. */
	private keptBefore(homeId: string, after: string | null): string {
		const home = homeId === this.root.id ? this.tree : (this.nodeOf(homeId)?.inside ?? []);
		const upTo = home.slice(0, home.findIndex(({ entry }) => entry.id === after) + 1);
		const kept = upTo.findLast(({ entry }) => !entry.isNew || this.known.has(entry.id));
		return kept ? this.idOf(kept.entry.id) : '';
	}

	private nodeOf(id: string, nodes: readonly Node[] = this.tree): Node | null {
		for (const node of nodes) {
			const found = node.entry.id === id ? node : this.nodeOf(id, node.inside);
			if (found) return found;
		}
		return null;
	}

	/** The id of what is kept; `null` while it is not. */
	keptId(id: string): string | null {
		const own = this.idOf(id);
		return own === this.root.id || this.nodeOf(id)?.entry.isNew === false || this.known.has(id) ? own : null;
	}

	private idOf(id: string): string {
		return this.known.get(id) ?? id;
	}

	/** One after the other, each with what is known when its turn comes. */
	private send(
		id: string,
		body: () => Record<string, string>,
		onAsked: (rehearsal: RehearsalView) => void = () => {}
	): Promise<string | null> {
		this.going++;
		const sent = this.line.then(async () => {
			const answer = await ask(this.root.id, body());
			this.going--;
			if (answer.ok) {
				if (id !== answer.id) this.known.set(id, answer.id);
			} else if (answer.rehearsal) onAsked(answer.rehearsal);
			else if (this.nodeOf(id)?.entry.isNew) this.change(id, { problem: answer.problem, isSent: false });
			else this.problem = answer.problem;
			if (this.going === 0) {
				await refresh('desk:library');
				// A page that is read anew is taken then; what was refused goes back at once.
				if (!answer.ok && !answer.rehearsal && this.given) this.take(this.given);
			}
			return answer.ok ? answer.id : null;
		});
		this.line = sent;
		return sent;
	}

	private change(id: string, change: Partial<Entry>): void {
		const changed = (nodes: readonly Node[]): Node[] =>
			nodes.map(({ entry, inside }) => ({
				entry: entry.id === id ? { ...entry, ...change } : entry,
				inside: changed(inside)
			}));
		this.tree = changed(this.tree);
	}

	private withNew(tree: readonly Node[], entry: Entry, spot: Spot): Node[] {
		const node: Node = { entry, inside: [] };
		return withMoved([...tree, node], this.root.id, entry.id, spot);
	}
}

async function ask(rootId: string, body: Record<string, string>): Promise<Answer> {
	const form = new FormData();
	for (const [name, value] of Object.entries(body)) form.set(name, value);
	const response = await fetch(`/desk/library/${rootId}?/outline`, {
		method: 'POST',
		headers: { 'x-sveltekit-action': 'true', accept: 'application/json' },
		body: form
	}).catch(() => null);
	if (!response) return { ok: false, problem: NOT_REACHED, rehearsal: null };
	const text = await response.text().catch(() => '');
	const result = readAnswer(text);
	if (!result) return { ok: false, problem: NOT_UNDERSTOOD, rehearsal: null };
	if (result.type === 'success' && result.data) return { ok: true, id: result.data.id };
	const data = result.type === 'failure' ? result.data : undefined;
	return {
		ok: false,
		problem: data?.problem ?? NOT_UNDERSTOOD,
		rehearsal: data?.rehearsal ?? null
	};
}

type ActionAnswer = ReturnType<
	typeof deserialize<{ id: string }, { problem?: string; rehearsal?: RehearsalView }>
>;

/** `null`: a page where an answer should be, such as that of a web server in front. */
function readAnswer(text: string): ActionAnswer | null {
	try {
		return deserialize(text);
	} catch {
		return null;
	}
}
