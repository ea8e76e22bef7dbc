import type { SubmitFunction } from '@sveltejs/kit';

/** For forms that lead into another book: the page is loaded whole, as nothing of the old one holds there. */
export const wholePage: SubmitFunction =
	() =>
	async ({ result, update }) => {
		if (result.type === 'redirect') return location.assign(result.location);
		await update({ reset: false });
	};
