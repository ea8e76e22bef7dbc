/** Hands the site's words down to the front's components. At the Desk, which has none of its own yet, they are English. */
import { getContext, setContext } from 'svelte';
import { frontWords, type FrontWords } from '$words/front';

const KEY = Symbol('words');

/** @param code gives the site's language: it may change while the page stays */
export function provideWords(code: () => string | undefined): void {
	setContext(KEY, () => frontWords(code()));
}

/** To be called while a component is made, as a context is. */
export function useWords(): () => FrontWords {
	return getContext<(() => FrontWords) | undefined>(KEY) ?? (() => frontWords('en'));
}
