/** Bytes that can be read at any place. Whoever opens it closes it. */
export interface OpenBytes {
	size: number;
	changedAt: number;
	/** Fills `into` from `position` on; gives how many bytes there were. */
	read(into: Buffer, position: number): Promise<number>;
	close(): void;
}

/** Bytes under keys such as `originals/<asset>`; keys are made by Stile, never typed. */
export interface Storage {
	put(key: string, bytes: Uint8Array): Promise<void>;
	/** Takes over a file of the local disk; it is gone from its old place. */
	take(key: string, path: string): Promise<void>;
	/** Puts what was taken over back where it came from: what was to follow did not happen. */
	giveBack(key: string, path: string): Promise<void>;
	/** A folder for work that is under way, on the same disk; removed by whoever asked, or at the next start. */
	workFolder(): Promise<string>;
	/** Removes what work that was cut off has left. */
	clearWork(): Promise<void>;
	/** `null` where there is nothing under the key. */
	open(key: string): Promise<OpenBytes | null>;
	/** All of what is small; `null` where there is nothing under the key. */
	whole(key: string): Promise<Buffer | null>;
	/** A path of the local disk, for programs that need one. */
	localPath(key: string): Promise<string>;
	/** Removes everything whose key begins with the prefix. */
	removeAll(prefix: string): Promise<void>;
	/** How much more can be kept, in bytes. */
	freeBytes(): Promise<number>;
	/** Throws where nothing can be written. */
	check(): Promise<void>;
}
