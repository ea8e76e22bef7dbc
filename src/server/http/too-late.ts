import { fail } from '@sveltejs/kit';

/** A press that came too late: what it was for is not there any more, or not as it was. Nothing was changed. */
export function tooLate() {
	const message = 'Nothing was changed: this is not there any more, or not as it was. Load the page again.';
	return fail(409, { errors: { late: [message] } });
}
