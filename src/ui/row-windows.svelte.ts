/**
 * Rows that are scrolled through: read in windows, as they come into view. What was read stays in view until it is read anew.
 */
interface Window<T> {
	rows: readonly T[];
	/** Of which beginning it is. */
	begun: number;
}

export interface Rows<T> {
	rows: readonly T[];
	total: number;
}

export abstract class RowWindows<T> {
	total = $state(0);
	private windows = $state.raw<readonly (Window<T> | undefined)[]>([]);
	/** How often it was begun: whoever looks at rows asks again then, and what was asked before comes too late. */
	private begun = $state(0);
	private asked: boolean[] = [];

	constructor(private readonly size: number) {}

	/** `null`: it could not be read, and is asked for again another time. */
	protected abstract fetched(from: number): Promise<Rows<T> | null>;

	/** @param isSame whether the other windows stay in view until they are read anew */
	protected beginWith(first: Rows<T>, isSame: boolean): void {
		this.readAgain();
		this.total = first.total;
		this.windows = [{ rows: first.rows, begun: this.begun }, ...(isSame ? this.windows.slice(1) : [])];
	}

	/** All of it may be another by now. */
	protected readAgain(): void {
		this.begun++;
		this.asked = [];
	}

	row(n: number): T | null {
		return this.windows[Math.floor(n / this.size)]?.rows[n % this.size] ?? null;
	}

	/** Whether a row shows what is, and not what was. */
	isCurrent(n: number): boolean {
		return this.windows[Math.floor(n / this.size)]?.begun === this.begun;
	}

	/** Reads what is missing between two rows. */
	async need(from: number, to: number): Promise<void> {
		const { begun } = this;
		const last = Math.min(to, this.total - 1);
		for (let key = Math.floor(from / this.size); key * this.size <= last; key++) {
			if (begun !== this.begun) return;
			if (this.isCurrent(key * this.size) || this.asked[key]) continue;
			this.asked[key] = true;
			await this.read(key);
		}
	}

	private async read(key: number): Promise<void> {
		const { begun } = this;
		const answer = await this.fetched(key * this.size).catch(() => null);
		if (begun !== this.begun) return;
		this.asked[key] = false;
		if (!answer) return;
		this.total = answer.total;
		const read = { rows: answer.rows, begun };
		const length = Math.max(key + 1, this.windows.length);
		this.windows = Array.from({ length }, (_, n) => (n === key ? read : this.windows[n]));
	}
}
