import type { OpenBytes } from './storage';

export interface BucketEntry {
	/** The whole key. */
	key: string;
	bytes: number;
	changedAt: number;
}

export interface BucketPage {
	/** Prefixes one level further down, each ending with a slash. */
	folders: string[];
	entries: BucketEntry[];
	/** Where the next page begins; `null` where this is the last. */
	next: string | null;
}

/** An object store that speaks the S3 protocol. */
export interface Bucket {
	list(prefix: string, from: string | null): Promise<BucketPage>;
	/** `null` where there is no such object. */
	open(key: string): Promise<OpenBytes | null>;
	/** Copies an object to a file of the local disk. */
	fetchTo(key: string, path: string, onBytes: (count: number) => void, signal: AbortSignal): Promise<void>;
}
