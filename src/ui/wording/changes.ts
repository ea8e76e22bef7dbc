/** Changes of access in plain sentences. */
import type { NotTakenBack } from '$core/access/taking-back';

export function notTakenBackWords(code: NotTakenBack | 'unknown' | 'not-ready' | 'sends-in-vain'): string {
	switch (code) {
		case 'changed-since':
			return 'Somebody has changed the same since. Take back the later change first, or change it where it stands.';
		case 'made-or-gone':
			return 'Something was made or removed in it, which cannot be taken back here. What was made can be archived.';
		case 'address':
			return 'Something else has an address by now that it would give back. Give that another one first.';
		case 'sends-in-vain':
			return 'Whoever is turned away would be sent to a page that is closed to them by now. Change it where it stands.';
		case 'leads-nowhere':
			return 'What it led to is gone: a home, a category, a tag or a plan.';
		case 'not-ready':
			return 'A film or file in it has no content any more, so it cannot be published again.';
		case 'unknown':
			return 'There is no such change.';
	}
}

interface About {
	kind: 'fence' | 'release' | 'resource' | 'plan' | 'site';
	names: string[];
	count: number;
}

const KINDS: Record<About['kind'], [one: string, many: string]> = {
	fence: ['fence', 'fences'],
	release: ['release', 'releases'],
	resource: ['item', 'items'],
	plan: ['plan or label', 'plans and labels'],
	site: ['rules of the site', 'rules of the site']
};

/** `the fence “Lessons”; the items “One”, “Two” and 3 more` */
export function aboutWords(about: readonly About[]): string {
	return about
		.map(({ kind, names, count }) => {
			const [one, many] = KINDS[kind];
			const said = names.filter((name) => name !== '').map((name) => `“${name}”`);
			const more = count > names.length ? ` and ${count - names.length} more` : '';
			return `the ${count === 1 ? one : many} ${said.join(', ')}${more}`.trim();
		})
		.join('; ');
}
