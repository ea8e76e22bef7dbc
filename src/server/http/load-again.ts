/**
 * Says to the kit that a load depends on the address: what is decided for it is read from `locals`, which the kit does not
 * watch, and a browser that turns to another page of the same kind would keep what it has.
 */
export function again({ url }: { url: URL }): void {
	void url.pathname;
}
