import { describe, expect, it, vi } from 'vitest';
import { hearNews, type News, type Surroundings } from './news';

/** A browser: tabs that share a channel and a lock, and the connections that they open. */
function browser() {
	const tabs: { hear: (event: { data: unknown }) => void }[] = [];
	const connections: {
		say: (event: News | 'open' | 'error') => void;
		isOpen: boolean;
		readyState: number;
	}[] = [];
	let queue = Promise.resolve();
	const open: Surroundings['open'] = () => {
		const listeners = new Map<string, () => void>();
		const connection = {
			say: (event: News | 'open' | 'error') => listeners.get(event)?.(),
			isOpen: true,
			readyState: 1
		};
		connections.push(connection);
		return Object.assign(connection, {
			addEventListener: (event: string, listener: unknown) =>
				void listeners.set(event, listener as () => void),
			close: () => void (connection.isOpen = false)
		});
	};
	const locks = {
		request: (_: string, { signal }: { signal: AbortSignal }, hold: () => Promise<void>) => {
			const turn = queue.then(() => (signal.aborted ? undefined : hold()));
			queue = turn.then(() => {});
			return turn;
		}
	} as unknown as NonNullable<Surroundings['locks']>;
	const tab = (over: Partial<Surroundings> = {}) => {
		const own = { hear: (_: { data: unknown }) => {} };
		tabs.push(own);
		const heard: News[] = [];
		const channel = {
			postMessage: (data: unknown) => {
				for (const other of tabs) if (other !== own) other.hear({ data });
			},
			addEventListener: (_: string, listener: unknown) => void (own.hear = listener as (typeof own)['hear']),
			close: () => void tabs.splice(tabs.indexOf(own), 1)
		} as unknown as NonNullable<Surroundings['channel']>;
		const end = hearNews({ channel, locks, open, ...over }, (news) => heard.push(news));
		return { heard, end };
	};
	return { tab, connections };
}
const settled = () => new Promise((resolve) => setTimeout(resolve));

describe('news of the Desk', () => {
	it('comes to all tabs by one connection', async () => {
		const { tab, connections } = browser();
		const [first, second] = [tab(), tab()];
		await settled();
		expect(connections).toHaveLength(1);
		connections[0]?.say('library');
		connections[0]?.say('members');
		expect(first.heard).toEqual(['library', 'members']);
		expect(second.heard).toEqual(['library', 'members']);
	});

	it('goes on by another tab when the one that listened is closed', async () => {
		const { tab, connections } = browser();
		const [first, second] = [tab(), tab()];
		await settled();
		first.end();
		await settled();
		expect(connections.map(({ isOpen }) => isOpen)).toEqual([false, true]);
		connections[1]?.say('library');
		expect(second.heard).toEqual(['library']);
		expect(first.heard).toEqual([]);
	});

	it('is not listened for by a tab that was closed before its turn came', async () => {
		const { tab, connections } = browser();
		const [first, second] = [tab(), tab()];
		second.end();
		await settled();
		first.end();
		await settled();
		expect(connections).toHaveLength(1);
	});

	it('comes to each tab by itself where tabs cannot talk', async () => {
		const { tab, connections } = browser();
		const first = tab({ channel: null, locks: null });
		tab({ channel: null, locks: null });
		await settled();
		expect(connections).toHaveLength(2);
		connections[0]?.say('library');
		expect(first.heard).toEqual(['library']);
	});

	it('is asked for anew once a connection that broke stands again', async () => {
		const { tab, connections } = browser();
		const { heard } = tab();
		await settled();
		connections[0]?.say('open');
		expect(heard).toEqual([]);
		connections[0]?.say('error');
		connections[0]?.say('open');
		expect(heard).toEqual(['library', 'members']);
	});

	it('is listened for again later where the server refused, and by nobody once the tab is closed', async () => {
		vi.useFakeTimers();
		const { tab, connections } = browser();
		const { end } = tab({ channel: null, locks: null });
		const refuse = () => {
			const last = connections.at(-1)!;
			last.readyState = 2;
			last.say('error');
		};
		refuse();
		await vi.advanceTimersByTimeAsync(60_000);
		expect(connections).toHaveLength(2);
		refuse();
		end();
		await vi.advanceTimersByTimeAsync(60_000);
		expect(connections).toHaveLength(2);
		vi.useRealTimers();
	});
});
