import { applyAction } from '$app/forms';

/** What a form was answered counts no more, and nothing was done; what is typed stays. */
export function forgetAnswer(): void {
	void applyAction({ type: 'success', status: 200 });
}
