import { fenceChoices, fenceList } from '$server/reads/desk/fences';
import { deskNames } from '$server/reads/desk/names';
import { namesOf } from '$ui/names';
import { closesWords, crossesWords, findingWords } from '$ui/wording/fence';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals: { app }, url }) => {
	const site = await app.site();
	const { fences, findings, named, ...list } = await fenceList(app, url);
	const names = namesOf(await deskNames(app), site.zone);
	return {
		...list,
		fences: fences.map(({ fence, ...found }) => ({
			id: fence.id,
			name: fence.name,
			isOn: fence.isOn,
			words: `${closesWords(fence, names)}; ${crossesWords(fence.crossings, names, named)}`,
			...found
		})),
		findings: findings.map((one) => findingWords(one, names)),
		choices: await fenceChoices(app),
		siteTurnAway: site.turnAway
	};
};
