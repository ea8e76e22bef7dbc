export interface Pictures {
	/** A picture of one's own for an item, as a JPEG; `null` where the file is no picture, or too large to be drawn. */
	cover(path: string): Promise<Buffer | null>;
}
