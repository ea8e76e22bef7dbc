/**
 * Where the keyboard goes when something is opened beside a list, and when it is closed again: to the heading of what was
 * opened, and back to its row.
 */

/** Areas with a list, and an editor of one of its things beside it. */
const EDITED = /^\/desk\/(?:library|plans|fences|members)\/[^/]+$/;

export function isEditor(path: string): boolean {
	return EDITED.test(path);
}

/** @param from where somebody was, as a path; `null` at the beginning */
export function focusAfter(from: string | null, to: string): void {
	if (from === null || from === to) return;
	// Whoever has gone on typing meanwhile is left where they are.
	if (document.activeElement !== null && document.activeElement !== document.body) return;
	if (isEditor(to))
		headingOf(document.getElementById('editor') ?? document.getElementById('content'))?.focus({
			preventScroll: true
		});
	else if (isEditor(from) && from.startsWith(`${to}/`)) rowOf(from)?.focus({ preventScroll: true });
}

/** Leads the keyboard, and whoever looks, to what an address names in the page: to a field, or to the heading of a section. */
export function leadTo(id: string): void {
	const place =
		document.getElementById(id) ?? document.querySelector<HTMLElement>(`[data-field="${CSS.escape(id)}"]`);
	if (!place) return;
	const isField = place.matches(TYPED);
	const inSight = [...place.querySelectorAll<HTMLElement>(TYPED)].find((one) => one.checkVisibility());
	const field = isField ? place : (inSight ?? place);
	if (field === place && !isField) place.tabIndex = -1;
	(place.closest('[data-field]') ?? place).scrollIntoView({ block: 'center' });
	field.focus({ preventScroll: true });
}

/** What can be typed into or chosen with. What does something by being pressed is not: Enter would do it unseen. */
const TYPED =
	'input:not([type="hidden"], [tabindex="-1"], [aria-hidden="true"]), textarea, button:is([role="radio"], [role="checkbox"], [role="switch"])';

function headingOf(editor: HTMLElement | null): HTMLElement | null {
	const heading = editor?.querySelector<HTMLElement>('h1, h2') ?? null;
	if (heading) heading.tabIndex = -1;
	return heading;
}

function rowOf(path: string): HTMLElement | null {
	for (const link of document.querySelectorAll<HTMLAnchorElement>('main a[href]'))
		if (link.pathname === path) return link.closest<HTMLElement>('[role="row"][tabindex]') ?? link;
	return null;
}
