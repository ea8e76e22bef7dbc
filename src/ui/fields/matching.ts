/** What is found among choices by what somebody has typed. */
import type { Option } from './labelled';

/** Those whose words hold every word that was typed, wherever; those that begin with it first. */
export function matching(options: readonly Option[], typed: string): Option[] {
	const wanted = plain(typed);
	if (wanted === '') return [...options];
	const parts = wanted.split(/\s+/);
	const held = options.filter(({ label, detail = '' }) => {
		const words = plain(`${label} ${detail}`);
		return parts.every((part) => words.includes(part));
	});
	const begins = ({ label }: Option) => plain(label).startsWith(wanted);
	return [...held.filter(begins), ...held.filter((one) => !begins(one))];
}

/** Without case and accents. */
function plain(text: string): string {
	return text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase().trim();
}
