import { deskNames } from '$server/reads/desk/names';
import { libraryLabels, libraryWindow } from '$server/reads/desk/library-rows';
import { placeName } from '$ui/names';
import { libraryAsk } from './ask';
import { WINDOW } from './window';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals: { app }, url, depends }) => {
	depends('desk:library');
	const ask = libraryAsk(url);
	const { resources } = await deskNames(app);
	return {
		ask,
		first: await libraryWindow(app, ask, 0, WINDOW),
		uploadLimit: app.settings.uploadLimitBytes,
		origin: app.settings.origin,
		home: ask.homeId === null ? null : { id: ask.homeId, label: placeName(resources, ask.homeId) },
		...(await libraryLabels(app))
	};
};
