import { redirect, type Cookies } from '@sveltejs/kit';
import type { Admitted } from '../usecases/accounts/admit';
import { clearHalf, setHalf, setSession } from './cookies';

/** Signs the device in; whoever is asked for a code besides is sent to its page, and nothing after this is run. */
export function letIn(cookies: Cookies, origin: string, admitted: Admitted, next: string): void {
	switch (admitted.kind) {
		case 'in':
			clearHalf(cookies, origin);
			return setSession(cookies, origin, admitted.session);
		case 'asks':
			setHalf(cookies, origin, admitted.half);
			redirect(303, next === '' ? '/sign-in/code' : `/sign-in/code?next=${encodeURIComponent(next)}`);
	}
}
