/** What is said in the world's names (DNS). */
export interface Names {
	/** The TXT records at a name, each joined from its strings; empty: there are none. `null`: nobody answered. */
	texts(name: string): Promise<readonly string[] | null>;
}
