/**
 * Files on their way up, in pieces (tus): each can be paused, goes on after a lost connection, and after the page was left
 * it goes on where it was as soon as the same file is chosen again.
 */
import { cleanFileName } from '$core/media/file-name';
import { formatBytes } from '$ui/wording/time';

const CHUNK_BYTES = 8 * 1024 * 1024;
const RETRY_AFTER_MS = [0, 1000, 3000, 5000, 10_000, 20_000];
/** So many are sent side by side; the others wait their turn. */
const AT_ONCE = 3;
/** RFC 4918 §11.5: the disk is full. It goes on as soon as there is room. */
const NO_ROOM = 507;

export interface Going {
	id: number;
	name: string;
	folder: string;
	bytes: number;
	percent: number;
	state: 'waiting' | 'going' | 'paused' | 'done' | 'refused';
	/** Whether it can be sent when its turn comes. */
	isReady: boolean;
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

export class Uploads {
	list = $state<Going[]>([]);
	private count = 0;

	constructor(
		private readonly limit: () => number,
		private readonly metadata: () => Record<string, string>,
		private readonly onDone: () => void
	) {}

	get summary(): string {
		const done = this.list.filter(({ state }) => state === 'done').length;
		const left = this.list.filter(({ state }) => state !== 'done' && state !== 'refused').length;
		return left === 0 ? '' : `${done} of ${done + left} sent`;
	}

	add(chosen: readonly Chosen[]): void {
		for (const one of chosen) void this.prepare(one);
	}

	private async prepare({ file, folder }: Chosen): Promise<void> {
		const id = ++this.count;
		const name = cleanFileName(file.name);
		const nothing = () => {};
		this.list.unshift({
			id,
			name,
			folder,
			bytes: file.size,
			percent: 0,
			state: 'waiting',
			isReady: false,
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
		if (file.size > this.limit())
			return refuse(`This file has ${formatBytes(file.size)}; the limit is ${formatBytes(this.limit())}.`);
		const { DetailedError, Upload } = await import('tus-js-client');
		const upload = new Upload(file, {
			endpoint: '/desk/uploads',
			chunkSize: CHUNK_BYTES,
			retryDelays: RETRY_AFTER_MS,
			removeFingerprintOnSuccess: true,
			metadata: { filename: file.name, folder, ...this.metadata() },
			// A refusal is final: trying again would only repeat it.
			onShouldRetry: (error) => {
				const status = error.originalResponse?.getStatus();
				return !isRefusal(status) && status !== NO_ROOM;
			},
			onProgress: (sent, total) => (entry.percent = Math.round((sent / total) * 100)),
			onSuccess: () => {
				entry.state = 'done';
				this.onDone();
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
		const [earlier] = await upload.findPreviousUploads();
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
