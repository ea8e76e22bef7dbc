/** What is found among choices by what somebody has typed. */
import { plainText } from '$core/text/finding';
import type { Option } from './labelled';

/** Those whose words hold every word that was typed, wherever; those that begin with it first. */
export function matching(options: readonly Option[], typed: string): Option[] {
	const wanted = plainText(typed);
	if (wanted === '') return [...options];
	const parts = wanted.split(/\s+/);
	const held = options.filter(({ label, detail = '' }) => {
		const words = plainText(`${label} ${detail}`);
		return parts.every((part) => words.includes(part));
	});
	const begins = ({ label }: Option) => plainText(label).startsWith(wanted);
	return [...held.filter(begins), ...held.filter((one) => !begins(one))];
}
