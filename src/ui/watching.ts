/**
 * One event stream for all tabs of a browser that play something.
 *
 * Browsers open at most six connections to a site over HTTP/1.1, and a stream of events holds one for as long as it lasts:
 * six films in six tabs would leave none for a seventh. So one of the tabs (whichever holds the lock, Web Locks API) watches
 * for all of them and passes on what it hears (BroadcastChannel, HTML Standard §9.5). Where a browser has neither, each tab
 * watches by itself.
 */
export type Heard = 'revoked' | 'replaced';

type Message =
	| { kind: 'who' }
	| { kind: 'want'; tab: string; proofs: string[] }
	| { kind: 'heard'; proof: string; event: Heard };

const NAME = 'stile-watching';
/** As many as one connection watches; see the server's. */
const MOST = 20;

/** What the tabs need of the browser, so that a test can stand in for it. */
export interface Surroundings {
	channel: Pick<BroadcastChannel, 'postMessage' | 'addEventListener'> | null;
	locks: Pick<LockManager, 'request'> | null;
	open(address: string): Pick<EventSource, 'addEventListener' | 'close'>;
}

export class Watching {
	private readonly tab = crypto.randomUUID();
	private readonly own = new Map<string, Set<(event: Heard) => void>>();
	/** While this tab leads: what each tab wants watched. */
	private wanted: Map<string, string[]> | null = null;
	private sources: { proofs: string; source: ReturnType<Surroundings['open']> }[] = [];
	private step = () => {};

	constructor(private readonly around: Surroundings) {
		around.channel?.addEventListener('message', ({ data }) => this.receive(data as Message));
	}

	/** @param stream the address of the master playlist. Gives what ends the watch. */
	watch(stream: string, listener: (event: Heard) => void): () => void {
		const proof = /\/media\/stream\/([^/]+)\//.exec(stream)?.[1] ?? '';
		const listeners = this.own.get(proof) ?? new Set();
		this.own.set(proof, listeners.add(listener));
		if (this.own.size === 1 && listeners.size === 1) this.lead();
		this.tell();
		return () => {
			listeners.delete(listener);
			if (listeners.size === 0) this.own.delete(proof);
			if (this.own.size === 0) this.step();
			this.tell();
		};
	}

	/** The page is left, perhaps to come back as it was. */
	leave(): void {
		this.post({ kind: 'want', tab: this.tab, proofs: [] });
	}

	comeBack(): void {
		if (this.own.size > 0) this.tell();
	}

	/** Waits until no other tab leads, and then leads until this one plays nothing any more. */
	private lead(): void {
		const { locks, channel } = this.around;
		const hold = () =>
			new Promise<void>((resolve) => {
				if (this.own.size === 0) return resolve();
				this.wanted = new Map([[this.tab, [...this.own.keys()]]]);
				this.step = () => {
					this.wanted = null;
					this.listen([]);
					resolve();
				};
				this.follow();
				this.post({ kind: 'who' });
			});
		if (locks && channel) void locks.request(NAME, hold);
		else void hold();
	}

	private tell(): void {
		const proofs = [...this.own.keys()];
		this.wanted?.set(this.tab, proofs);
		this.follow();
		this.post({ kind: 'want', tab: this.tab, proofs });
	}

	private receive(message: Message): void {
		switch (message.kind) {
			case 'who':
				return this.post({ kind: 'want', tab: this.tab, proofs: [...this.own.keys()] });
			case 'want':
				if (message.proofs.length > 0) this.wanted?.set(message.tab, message.proofs);
				else this.wanted?.delete(message.tab);
				return this.follow();
			case 'heard':
				return this.hear(message.proof, message.event);
		}
	}

	private follow(): void {
		if (!this.wanted) return;
		const proofs = [...new Set([...this.wanted.values()].flat())];
		const groups: string[][] = [];
		for (let n = 0; n < proofs.length; n += MOST) groups.push(proofs.slice(n, n + MOST));
		this.listen(groups);
	}

	/** What is watched already goes on; the new comes before the old ends, so that nothing is missed. */
	private listen(groups: readonly (readonly string[])[]): void {
		const before = this.sources;
		this.sources = groups.map(([first = '', ...others]) => {
			const proofs = [first, ...others].join();
			const known = before.find((one) => one.proofs === proofs);
			if (known) return known;
			const query = others.map((proof) => `and=${proof}`).join('&');
			const source = this.around.open(`/media/stream/${first}/watch${query ? `?${query}` : ''}`);
			for (const event of ['revoked', 'replaced'] as const)
				source.addEventListener(event, (heard: Event) => {
					const proof = String((heard as MessageEvent).data);
					this.post({ kind: 'heard', proof, event });
					this.hear(proof, event);
				});
			return { proofs, source };
		});
		for (const one of before) if (!this.sources.includes(one)) one.source.close();
	}

	private hear(proof: string, event: Heard): void {
		for (const listener of [...(this.own.get(proof) ?? [])]) listener(event);
	}

	private post(message: Message): void {
		this.around.channel?.postMessage(message);
	}
}

let watching: Watching | null = null;

/** The tab's own; made when something is played first. */
export function watchStream(stream: string, listener: (event: Heard) => void): () => void {
	watching ??= ofThisTab();
	return watching.watch(stream, listener);
}

function ofThisTab(): Watching {
	const made = new Watching({
		channel: 'BroadcastChannel' in globalThis ? new BroadcastChannel(NAME) : null,
		locks: navigator.locks ?? null,
		open: (address) => new EventSource(address)
	});
	addEventListener('pagehide', () => made.leave());
	addEventListener('pageshow', () => made.comeBack());
	return made;
}
