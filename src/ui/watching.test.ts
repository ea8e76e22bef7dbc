import { describe, expect, it } from 'vitest';
import { Watching, type Heard, type Surroundings } from './watching';

/** A browser with tabs: one channel that reaches all others, one lock that one of them holds. */
class Browser {
	readonly opened: string[] = [];
	readonly sources: { address: string; isClosed: boolean; say: (event: Heard, proof: string) => void }[] = [];
	private readonly heard: { tab: number; listener: (event: { data: unknown }) => void }[] = [];
	private readonly queue: (() => Promise<void>)[] = [];
	private isHeld = false;
	private tabs = 0;

	tab(has: { channel?: boolean; locks?: boolean } = {}): Watching {
		const tab = ++this.tabs;
		const channel = {
			postMessage: (data: unknown) => {
				for (const one of [...this.heard]) if (one.tab !== tab) one.listener({ data });
			},
			addEventListener: (_name: string, listener: (event: { data: unknown }) => void) =>
				void this.heard.push({ tab, listener })
		};
		return new Watching({
			channel: has.channel === false ? null : channel,
			locks: has.locks === false ? null : { request: this.request },
			open: (address: string) => this.open(address)
		} as unknown as Surroundings);
	}

	private readonly request = async (_name: string, hold: () => Promise<void>) => {
		this.queue.push(hold);
		if (this.isHeld) return;
		this.isHeld = true;
		for (let next = this.queue.shift(); next; next = this.queue.shift()) await next();
		this.isHeld = false;
	};

	private open(address: string) {
		this.opened.push(address);
		const listeners = new Map<string, (event: { data: string }) => void>();
		const source = {
			address,
			isClosed: false,
			say: (event: Heard, proof: string) => listeners.get(event)?.({ data: proof })
		};
		this.sources.push(source);
		return {
			addEventListener: (event: string, listener: (event: { data: string }) => void) =>
				void listeners.set(event, listener),
			close: () => void (source.isClosed = true)
		};
	}

	get living() {
		return this.sources.filter(({ isClosed }) => !isClosed);
	}
}

const stream = (proof: string) => `/media/stream/${proof}/master.m3u8`;
const settled = () => new Promise((resolve) => setTimeout(resolve));

describe('films in several tabs', () => {
	it('are watched on one connection, by whichever tab came first', async () => {
		const browser = new Browser();
		const heard: string[] = [];
		for (const proof of ['a', 'b', 'c'])
			browser.tab().watch(stream(proof), (event) => void heard.push(`${proof} ${event}`));
		await settled();
		expect(browser.living.map(({ address }) => address)).toEqual(['/media/stream/a/watch?and=b&and=c']);
		browser.living[0]?.say('revoked', 'b');
		browser.living[0]?.say('replaced', 'a');
		expect(heard).toEqual(['b revoked', 'a replaced']);
	});

	it('are watched on by another tab when the one that watched is done', async () => {
		const browser = new Browser();
		const heard: string[] = [];
		const end = browser.tab().watch(stream('a'), () => {});
		for (const proof of ['b', 'c'])
			browser.tab().watch(stream(proof), (event) => void heard.push(`${proof} ${event}`));
		end();
		await settled();
		expect(browser.living.map(({ address }) => address)).toEqual(['/media/stream/b/watch?and=c']);
		browser.living[0]?.say('revoked', 'c');
		expect(heard).toEqual(['c revoked']);
	});

	it('that end are watched no longer, and nothing is when all have ended', async () => {
		const browser = new Browser();
		const [one, two] = [browser.tab(), browser.tab()];
		const ends = [one.watch(stream('a'), () => {}), two.watch(stream('b'), () => {})];
		ends[1]?.();
		await settled();
		expect(browser.living.map(({ address }) => address)).toEqual(['/media/stream/a/watch']);
		ends[0]?.();
		await settled();
		expect(browser.living).toEqual([]);
		// And begins anew.
		two.watch(stream('c'), () => {});
		await settled();
		expect(browser.living.map(({ address }) => address)).toEqual(['/media/stream/c/watch']);
	});

	it('are watched once where two tabs play the same, and told to both', async () => {
		const browser = new Browser();
		const heard: number[] = [];
		for (const n of [1, 2]) browser.tab().watch(stream('a'), () => void heard.push(n));
		await settled();
		expect(browser.living).toHaveLength(1);
		browser.living[0]?.say('revoked', 'a');
		expect(heard.sort()).toEqual([1, 2]);
	});

	it('take a second connection past twenty', async () => {
		const browser = new Browser();
		for (let n = 0; n < 21; n++) browser.tab().watch(stream(`p${n}`), () => {});
		await settled();
		expect(browser.living).toHaveLength(2);
	});

	it('are watched each by itself where the browser has no locks', async () => {
		const browser = new Browser();
		const heard: string[] = [];
		for (const proof of ['a', 'b'])
			browser
				.tab({ channel: false, locks: false })
				.watch(stream(proof), (event) => void heard.push(`${proof} ${event}`));
		await settled();
		expect(browser.living).toHaveLength(2);
		browser.living[1]?.say('revoked', 'b');
		expect(heard).toEqual(['b revoked']);
	});
});
