/** Papers that people print and file: receipts, credit notes, reports. */

/** What stands on one, in its reader's words. */
export interface Paper {
	/** IETF tag of its language. */
	language: string;
	/** Of the site, such as #2f6650. */
	colour: string;
	/** Whose it is, in lines. */
	from: { name: string; lines: string[] };
	to: { label: string; name: string; lines: string[] };
	title: string;
	facts: { label: string; value: string }[];
	rows: { text: string; notes: string[]; amount: string }[];
	/** Above the total. */
	sums: { label: string; amount: string }[];
	total: { label: string; amount: string };
	/** Below it: what is part of it, and what is said of it. */
	parts: { label: string; amount: string }[];
	notes: string[];
}

/** Tables under headings, over as many pages as they take. */
export interface Report {
	/** IETF tag of its language. */
	language: string;
	/** Of the site, such as #2f6650. */
	colour: string;
	/** Whose it is, in lines. */
	from: { name: string; lines: string[] };
	title: string;
	facts: { label: string; value: string }[];
	sections: {
		title: string;
		/** How much of the width each takes; all of them come to 1. */
		columns: { label: string; share: number }[];
		rows: string[][];
		/** What is said where there are none. */
		none: string;
		/** Below it. */
		note?: string;
	}[];
}

export interface Papers {
	/** As PDF, A4. The same paper has the same bytes. @param at when it was issued */
	pdf(paper: Paper, at: number): Promise<Uint8Array>;
	report(report: Report, at: number): Promise<Uint8Array>;
}
