/**
 * Whatever comes while the last is being written is written together with what else came: one transaction for all of it,
 * begun as soon as the last one is over. Nothing waits where nothing is under way.
 *
 * @param most so many at once
 * @param writeAll answers each, in the same order; where it throws, each of them has failed
 */
export function gathering<In, Out>(
	most: number,
	writeAll: (all: readonly In[]) => Promise<readonly Out[]>
): (one: In) => Promise<Out> {
	let waiting: Waiting<In, Out>[] = [];
	let isWriting = false;

	async function writeWaiting(): Promise<void> {
		isWriting = true;
		while (waiting.length > 0) {
			const batch = waiting.slice(0, most);
			waiting = waiting.slice(most);
			try {
				const answers = await writeAll(batch.map(({ one }) => one));
				for (const [n, { resolve }] of batch.entries()) resolve(answers[n] as Out);
			} catch (error) {
				for (const { reject } of batch) reject(error);
			}
		}
		isWriting = false;
	}

	return (one) =>
		new Promise((resolve, reject) => {
			waiting.push({ one, resolve, reject });
			if (!isWriting) void writeWaiting();
		});
}

interface Waiting<In, Out> {
	one: In;
	resolve(answer: Out): void;
	reject(error: unknown): void;
}
