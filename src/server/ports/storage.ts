import type { Readable } from 'node:stream';

export interface Stored {
	bytes: number;
	stream: () => Readable;
	/** For what is small: one read instead of many. */
	whole: () => Promise<Buffer>;
}

/** Bytes under keys such as `originals/<asset>`; keys are made by Stile, never typed. */
export interface Storage {
	put(key: string, bytes: Uint8Array): Promise<void>;
	/** Takes over a file of the local disk; it is gone from its old place. */
	take(key: string, path: string): Promise<void>;
	/** `null` where there is nothing under the key. */
	read(key: string): Promise<Stored | null>;
	/** A path of the local disk, for programs that need one. */
	localPath(key: string): Promise<string>;
	/** Removes everything whose key begins with the prefix. */
	removeAll(prefix: string): Promise<void>;
	/** Throws where nothing can be written. */
	check(): Promise<void>;
}
