/**
 * What the Desk is told of changes, one connection for all tabs of a browser: of six that a site may hold over HTTP/1.1 a
 * film and an upload need some. Whichever tab holds the lock (Web Locks API) listens, and passes on what it hears
 * (BroadcastChannel, HTML Standard §9.5). Where a browser has neither, each tab listens by itself.
 */
export type News = 'library' | 'members';

const NAME = 'stile-news';
/** `EventSource.CLOSED`. */
const CLOSED = 2;
const RETRY_MS = 30_000;
const KINDS: readonly News[] = ['library', 'members'];

/** What the tabs need of the browser, so that a test can stand in for it. */
export interface Surroundings {
	channel: Pick<BroadcastChannel, 'postMessage' | 'addEventListener' | 'close'> | null;
	locks: Pick<LockManager, 'request'> | null;
	open(): Pick<EventSource, 'addEventListener' | 'close' | 'readyState'>;
}

/** Tells of news until it is ended: by what this gives. */
export function hearNews({ channel, locks, open }: Surroundings, tell: (news: News) => void): () => void {
	let end = () => {};
	const ended = new Promise<void>((resolve) => (end = resolve));
	channel?.addEventListener('message', ({ data }) => tell(data as News));
	const hear = (news: News) => {
		channel?.postMessage(news);
		tell(news);
	};
	const listen = async () => {
		let close = () => {};
		let retry: ReturnType<typeof setTimeout> | undefined;
		let isLost = false;
		const connect = () => {
			const own = open();
			close = () => own.close();
			for (const news of KINDS) own.addEventListener(news, () => hear(news));
			own.addEventListener('open', () => {
				// What happened in between was not heard.
				if (isLost) KINDS.forEach(hear);
				isLost = false;
			});
			own.addEventListener('error', () => {
				isLost = true;
				// A connection that breaks is opened again by the browser; one that was refused is not.
				if (own.readyState === CLOSED) retry = setTimeout(connect, RETRY_MS);
			});
		};
		connect();
		await ended;
		clearTimeout(retry);
		close();
	};
	const stopped = new AbortController();
	if (locks && channel)
		void locks.request(NAME, { signal: stopped.signal }, listen).catch((problem: unknown) => {
			// It was ended before its turn came.
			if (!stopped.signal.aborted) throw problem;
		});
	else void listen();
	return () => {
		end();
		stopped.abort();
		channel?.close();
	};
}

export function ofThisTab(): Surroundings {
	return {
		channel: 'BroadcastChannel' in globalThis ? new BroadcastChannel(NAME) : null,
		locks: navigator.locks ?? null,
		open: () => new EventSource('/desk/news')
	};
}
