import { redirect, type Cookies } from '@sveltejs/kit';
import type { Using } from '../app';
import type { Admitted } from '../usecases/accounts/admit';
import { clearHalf, setHalf, setSession } from './cookies';

/** Signs the device in; whoever is asked for a code besides is sent to its page, and nothing after this is run. */
export function letIn(
	cookies: Cookies,
	app: Using<'isPractice' | 'settings'>,
	admitted: Admitted,
	next: string
): void {
	switch (admitted.kind) {
		case 'in':
			clearHalf(cookies, app);
			return setSession(cookies, app, admitted.session);
		case 'asks':
			setHalf(cookies, app, admitted.half);
			redirect(303, next === '' ? '/sign-in/code' : `/sign-in/code?next=${encodeURIComponent(next)}`);
	}
}
