/** The mailbox into which servers report what became of mails. */
export interface Returns {
	/**
	 * Hands over every report that was not read yet, whole as it came. It counts as read once `each` is done with it; what
	 * people wrote there is left alone. Gives how many there were.
	 */
	read(each: (report: Uint8Array) => Promise<void>): Promise<number>;
}
