/** The rows of the release board, and what is changed in them and not kept. */
import { SvelteMap, SvelteSet, SvelteURLSearchParams } from 'svelte/reactivity';
import type { BoardRow, BoardWindow } from '$core/access/board-view';
import type { Window } from '$core/access/model';
import { windowDraft, type WindowDraft } from './fence-draft';
import { readTyped } from './release-typed';
import { RowWindows } from './row-windows.svelte';

/** So long after the last change the server is asked what it would do. */
const PAUSE_MS = 120;

export class ReleaseList extends RowWindows<BoardRow> {
	private search = '';
	/** By item; `null` takes its release away. */
	private readonly changes = new SvelteMap<string, Window | null>();
	/** Changed, and the server was not asked yet what that would do. */
	private readonly unasked = new SvelteSet<string>();
	private timer: ReturnType<typeof setTimeout> | undefined;

	constructor(
		size: number,
		private readonly zone: () => string
	) {
		super(size);
	}

	begin(first: BoardWindow, search: string): void {
		const isSame = search === this.search;
		this.search = search;
		this.beginWith(first, isSame);
		// What a page brings is what is kept.
		if (this.changes.size > 0) this.readAgain();
	}

	get count(): number {
		return this.changes.size;
	}

	isChanged(id: string): boolean {
		return this.changes.has(id);
	}

	/** The release of a row, with what is changed of it. */
	of({ id, own }: Pick<BoardRow, 'id' | 'own'>): Window | null {
		return this.changes.has(id) ? (this.changes.get(id) ?? null) : own;
	}

	put({ id, own }: Pick<BoardRow, 'id' | 'own'>, window: Window | null): void {
		if (this.written(window) === this.written(own)) this.changes.delete(id);
		else this.changes.set(id, window);
		this.unasked.add(id);
		this.askLater();
	}

	/** Whether a row shows what would be, and not what was before its last change. */
	isAnswered(n: number, id: string): boolean {
		return this.isCurrent(n) && !this.unasked.has(id);
	}

	/** Leaves one as it is kept; without an id, all of them. */
	putBack(id?: string): void {
		if (id === undefined) this.changes.clear();
		else this.changes.delete(id);
		this.askLater();
	}

	/** What a form sends; `{}` for nothing. */
	get sent(): string {
		const said = [...this.changes].map(([id, window]) => `${JSON.stringify(id)}:${this.written(window)}`);
		return `{${said.join()}}`;
	}

	/** Takes what was sent, or typed another time. */
	take(sent: string): void {
		this.changes.clear();
		for (const [id, one] of Object.entries(read(sent))) {
			const typed = 'isRemoved' in one ? null : readTyped(one, this.zone());
			if (typed === null) this.changes.set(id, null);
			else if (typed.ok) this.changes.set(id, typed.window);
		}
		this.askLater();
	}

	/** What was sent is kept now: what was changed since stays changed. */
	kept(sent: string): void {
		const now = read(this.sent);
		for (const [id, one] of Object.entries(read(sent)))
			if (JSON.stringify(one) === JSON.stringify(now[id])) this.changes.delete(id);
		this.readAgain();
	}

	private written(window: Window | null): string {
		return JSON.stringify(window === null ? { isRemoved: true } : windowDraft(window, this.zone()));
	}

	protected async fetched(from: number): Promise<BoardWindow | null> {
		const query = new SvelteURLSearchParams(this.search);
		query.set('from', String(from));
		const response = await fetch(`/desk/releases/rows?${query}`, {
			method: 'POST',
			headers: { 'content-type': 'application/json' },
			body: `{"changes":${this.sent}}`
		});
		return response.ok ? ((await response.json()) as BoardWindow) : null;
	}

	protected override readAgain(): void {
		this.unasked.clear();
		super.readAgain();
	}

	private askLater(): void {
		clearTimeout(this.timer);
		this.timer = setTimeout(() => this.readAgain(), PAUSE_MS);
	}
}

type Sent = Record<string, WindowDraft | { isRemoved: true }>;

function read(sent: string): Sent {
	return JSON.parse(sent) as Sent;
}
