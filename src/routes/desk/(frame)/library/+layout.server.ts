import { deskNames } from '$server/reads/desk/names';
import { libraryLabels, libraryWindow } from '$server/reads/desk/library-rows';
import { FIRST_ROWS, outlineOf } from '$server/reads/desk/outline';
import { placeName } from '$ui/names';
import { libraryAsk } from './ask';
import { WINDOW } from './window';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals: { app }, url, depends }) => {
	depends('desk:library');
	const ask = libraryAsk(url);
	const { resources } = await deskNames(app);
	const within = url.searchParams.get('in');
	return {
		ask,
		first: await libraryWindow(app, ask, 0, WINDOW),
		/** The collection whose outline stands beside what is open in it. */
		beside: within === null ? null : await outlineOf(app, within, FIRST_ROWS),
		uploadLimit: app.settings.uploadLimitBytes,
		origin: app.settings.origin,
		home: ask.homeId === null ? null : { id: ask.homeId, label: placeName(resources, ask.homeId) },
		...(await libraryLabels(app))
	};
};
