/**
 * Files on their way up, in pieces (tus): each can be paused, goes on after a lost connection, and after the page was left
 * it goes on where it was as soon as the same file is chosen again.
 */
import { getContext, setContext } from 'svelte';
import { cleanFileName } from '$core/media/file-name';
import { formatBytes } from '$ui/wording/time';

const UPLOADS = '/desk/uploads';
const CHUNK_BYTES = 8 * 1024 * 1024;
const RETRY_AFTER_MS = [0, 1000, 3000, 5000, 10_000, 20_000];
/** So many are sent side by side; the others wait their turn. */
const AT_ONCE = 3;
/** RFC 4918 §11.5: the disk is full. It goes on as soon as there is room. */
const NO_ROOM = 507;

export interface Going {
	id: number;
	/** By whom it was chosen. */
	box: string;
	name: string;
	folder: string;
	bytes: number;
	percent: number;
	state: 'waiting' | 'going' | 'paused' | 'done' | 'refused';
	/** Whether it can be sent when its turn comes. */
	isReady: boolean;
	/** The item that is to show it. */
	replaces: string | null;
	/** What it has become, once it is received. */
	itemId: string | null;
	/** Whether it was told that it is prepared, or could not be. */
	isTold: boolean;
	problem: string;
	pause: () => void;
	resume: () => void;
	stop: () => void;
}

export interface Chosen {
	file: File;
	/** The folders that it lies in, such as `wheels/tables`. */
	folder: string;
}

/** What whoever chose files says of them. */
export interface Choosing {
	box: string;
	/** In bytes. */
	limit: number;
	/** What the server is told of each. */
	metadata: Record<string, string>;
	onDone: () => void;
	/** An upload that was left, for the same file to go on with. */
	resumes?: { id: string; bytes: number } | null;
}

/** All of a tab's: they go on whichever view is looked at. */
export class Uploads {
	list = $state<Going[]>([]);
	/** Boxes that are looked at: they say by themselves what becomes of theirs. */
	private looked: string[] = [];
	private count = 0;

	/** @param onReceived told of each that has become something where nobody looks at its box any more */
	constructor(private readonly onReceived: (entry: Going) => void = () => {}) {}

	/** @returns what ends the look */
	lookAt(box: string): () => void {
		this.looked.push(box);
		return () => (this.looked = this.looked.filter((one) => one !== box));
	}

	/** Asks which of those that were received are prepared by now. Gives what nobody was told of before. */
	async prepared(): Promise<{ itemId: string; title: string; problem: string | null }[]> {
		const waiting = this.list.filter(({ state, itemId, isTold }) => state === 'done' && itemId && !isTold);
		if (waiting.length === 0) return [];
		const asked = waiting.map(({ itemId }) => `item=${itemId}`).join('&');
		const answer = await fetch(`/desk/library/prepared?${asked}`).catch(() => null);
		if (!answer?.ok) return [];
		const ended = (await answer.json()) as { itemId: string; title: string; problem: string | null }[];
		return ended.filter(({ itemId }) => {
			const entry = waiting.find((one) => one.itemId === itemId);
			const isNew = entry !== undefined && !entry.isTold;
			if (entry) entry.isTold = true;
			return isNew;
		});
	}

	of(box: string): Going[] {
		return this.list.filter((entry) => entry.box === box);
	}

	add(chosen: readonly Chosen[], choosing: Choosing): void {
		for (const one of chosen) void this.prepare(one, choosing);
	}

	/** Takes those that are over from the list. */
	clear(): void {
		this.list = this.list.filter(isLeft);
	}

	private async prepare(
		{ file, folder }: Chosen,
		{ box, limit, metadata, onDone, resumes = null }: Choosing
	): Promise<void> {
		const id = ++this.count;
		const name = cleanFileName(file.name);
		const nothing = () => {};
		this.list.unshift({
			id,
			box,
			name,
			folder,
			bytes: file.size,
			percent: 0,
			state: 'waiting',
			isReady: false,
			replaces: metadata.replaces ?? null,
			itemId: null,
			isTold: false,
			problem: '',
			pause: nothing,
			resume: nothing,
			stop: nothing
		});
		const entry = this.list.find((other) => other.id === id);
		if (!entry) return;
		const refuse = (problem: string) => {
			Object.assign(entry, { state: 'refused', problem });
			this.next();
		};
		if (file.size === 0)
			return refuse(
				'This file is empty (0 bytes). Choose it again; it may not have been exported to the end.'
			);
		if (file.size > limit)
			return refuse(`This file has ${formatBytes(file.size)}; the limit is ${formatBytes(limit)}.`);
		if (resumes && file.size !== resumes.bytes)
			return refuse(
				`This is another file: it has ${formatBytes(file.size)}, and the one that was begun has ${formatBytes(resumes.bytes)}.`
			);
		const { DetailedError, Upload } = await import('tus-js-client');
		const upload = new Upload(file, {
			endpoint: UPLOADS,
			...(resumes ? { uploadUrl: `${UPLOADS}/${resumes.id}` } : {}),
			chunkSize: CHUNK_BYTES,
			retryDelays: RETRY_AFTER_MS,
			removeFingerprintOnSuccess: true,
			metadata: { filename: file.name, folder, ...metadata },
			// A refusal is final: trying again would only repeat it.
			onShouldRetry: (error) => {
				const status = error.originalResponse?.getStatus();
				return !isRefusal(status) && status !== NO_ROOM;
			},
			onProgress: (sent, total) => (entry.percent = Math.round((sent / total) * 100)),
			onSuccess: ({ lastResponse }) => {
				entry.state = 'done';
				entry.itemId = lastResponse.getHeader('Stile-Item') ?? null;
				onDone();
				if (!this.looked.includes(box)) this.onReceived(entry);
				this.next();
			},
			onError: (error) => {
				const answer = error instanceof DetailedError ? error.originalResponse : null;
				const said = answer?.getBody().trim();
				if (said && isRefusal(answer?.getStatus())) return refuse(said);
				entry.state = 'paused';
				entry.problem =
					said && answer?.getStatus() === NO_ROOM ? said : 'The connection was lost. What was sent is kept.';
				this.next();
			}
		});
		entry.pause = () => {
			void upload.abort();
			entry.state = 'paused';
			entry.problem = '';
			this.next();
		};
		entry.resume = () => {
			entry.state = 'going';
			entry.problem = '';
			upload.start();
		};
		entry.stop = () => {
			void upload.abort(true).catch(nothing);
			this.list = this.list.filter((other) => other.id !== id);
			this.next();
		};
		const [earlier] = resumes ? [] : await upload.findPreviousUploads();
		if (earlier) upload.resumeFromPreviousUpload(earlier);
		entry.isReady = true;
		this.next();
	}

	/** Starts those whose turn it is, the first chosen first. */
	private next(): void {
		const going = this.list.filter(({ state }) => state === 'going').length;
		const waiting = this.list.filter(({ state, isReady }) => state === 'waiting' && isReady).reverse();
		for (const entry of waiting.slice(0, Math.max(0, AT_ONCE - going))) entry.resume();
	}
}

/** Forgets an upload that was left, with what was sent of it. */
export async function forgetUpload(id: string): Promise<void> {
	await fetch(`${UPLOADS}/${id}`, { method: 'DELETE', headers: { 'tus-resumable': '1.0.0' } });
}

/** Whether something of it is still to be sent. */
export function isLeft({ state }: Pick<Going, 'state'>): boolean {
	return state !== 'done' && state !== 'refused';
}

/** How far several are, together: `2 of 5 sent`; empty where all are over. */
export function summaryOf(list: readonly Going[]): string {
	const done = list.filter(({ state }) => state === 'done').length;
	const left = list.filter(isLeft).length;
	return left === 0 ? '' : `${done} of ${done + left} sent`;
}

/** How far they are by their bytes, in percent. */
export function shareOf(list: readonly Going[]): number {
	const sent = list.filter(({ state }) => state !== 'refused');
	const bytes = sent.reduce((sum, one) => sum + one.bytes, 0);
	return bytes === 0 ? 0 : Math.round(sent.reduce((sum, one) => sum + one.bytes * one.percent, 0) / bytes);
}

const KEY = Symbol('uploads');

export function provideUploads(uploads: Uploads): void {
	setContext(KEY, uploads);
}

/** To be called while a component is made, as a context is. */
export function useUploads(): Uploads {
	return getContext<Uploads>(KEY);
}

function isRefusal(status: number | undefined): boolean {
	return status !== undefined && status >= 400 && status < 500 && status !== 409 && status !== 423;
}

/** Files and folders that were dropped, with the folders they lie in. */
export async function dropped(transfer: DataTransfer): Promise<Chosen[]> {
	const entries = [...transfer.items].map((item) => item.webkitGetAsEntry?.() ?? null);
	const isKnown = entries.some((entry) => entry !== null);
	if (!isKnown) return [...transfer.files].map((file) => ({ file, folder: '' }));
	const found = await Promise.all(entries.map((entry) => (entry ? within(entry, '') : [])));
	return found.flat();
}

/** Files that were chosen: of a folder, the browser says where in it they lie. */
export function chosen(files: FileList): Chosen[] {
	return [...files].map((file) => ({
		file,
		folder: file.webkitRelativePath.split('/').slice(0, -1).join('/')
	}));
}

async function within(entry: FileSystemEntry, folder: string): Promise<Chosen[]> {
	if (entry.isFile) {
		const file = await new Promise<File>((resolve, reject) =>
			(entry as FileSystemFileEntry).file(resolve, reject)
		);
		// Leavings of the system, which nobody means to publish.
		return /^(?:\.|Thumbs\.db$|desktop\.ini$)/.test(file.name) ? [] : [{ file, folder }];
	}
	const reader = (entry as FileSystemDirectoryEntry).createReader();
	const inner: FileSystemEntry[] = [];
	// A reader gives some at a time, and nothing when there are no more.
	for (;;) {
		const some = await new Promise<FileSystemEntry[]>((resolve, reject) =>
			reader.readEntries(resolve, reject)
		);
		if (some.length === 0) break;
		inner.push(...some);
	}
	const path = folder === '' ? entry.name : `${folder}/${entry.name}`;
	return (await Promise.all(inner.map((one) => within(one, path)))).flat();
}
