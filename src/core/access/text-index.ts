/**
 * Finds which of many texts a path contains, without trying each.
 *
 * Every text is filed under the rarest of its runs of three characters; a path is cut into its runs of three, and only
 * the texts filed under one of them are compared. Texts of one or two characters are always compared.
 */
export class TextIndex<T> {
	private readonly byGram = new Map<string, { text: string; value: T }[]>();
	private readonly short: { text: string; value: T }[] = [];

	constructor(entries: readonly { text: string; value: T }[]) {
		const frequency = new Map<string, number>();
		for (const { text } of entries)
			for (const gram of gramsOf(text)) frequency.set(gram, (frequency.get(gram) ?? 0) + 1);
		for (const entry of entries) {
			let rarest: string | null = null;
			for (const gram of gramsOf(entry.text)) {
				if (rarest === null || (frequency.get(gram) ?? 0) < (frequency.get(rarest) ?? 0)) rarest = gram;
			}
			if (rarest === null) this.short.push(entry);
			else {
				const filed = this.byGram.get(rarest);
				if (filed) filed.push(entry);
				else this.byGram.set(rarest, [entry]);
			}
		}
	}

	/** The values of all texts that `path` contains, each once. */
	within(path: string): T[] {
		const found: T[] = [];
		for (const { text, value } of this.short) if (path.includes(text)) found.push(value);
		if (this.byGram.size === 0) return found;
		const seen = new Set<string>();
		for (let i = 0; i + 3 <= path.length; i++) {
			const gram = path.slice(i, i + 3);
			const filed = this.byGram.get(gram);
			if (!filed || seen.has(gram)) continue;
			seen.add(gram);
			for (const { text, value } of filed) if (path.includes(text)) found.push(value);
		}
		return found;
	}
}

function* gramsOf(text: string): Generator<string> {
	for (let i = 0; i + 3 <= text.length; i++) yield text.slice(i, i + 3);
}
