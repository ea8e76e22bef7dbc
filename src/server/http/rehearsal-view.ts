/** A rehearsal as the Desk shows it before a save. */
import type { RehearsalView } from '$core/access/rehearsal-view';
import type { RehearsedEffect } from '$core/access/rehearse';
import type { App } from '../app';
import { accountNames } from '../db/queries/members';
import type { KeptRehearsal } from '../usecases/access/rehearsed-save';
import { labelLists } from '../reads/label-lists';
import { deskNames } from './names';

const NAMED = 4;
const LINES = 12;

export async function rehearsalView(app: App, { id, result }: KeptRehearsal): Promise<RehearsalView> {
	const names = await deskNames(app);
	const title = (resourceId: string) => names.resources[resourceId]?.title ?? 'a new item';
	const lines = alike(result);
	const first = lines.slice(0, LINES);
	const people = await accountNames(
		app.db,
		first.flatMap(({ memberIds }) => memberIds.slice(0, NAMED))
	);
	return {
		id,
		members: result.members,
		lines: first.map(({ kind, at, backAt, resourceIds, memberIds }) => ({
			kind,
			at,
			backAt,
			people: memberIds.slice(0, NAMED).map((one) => people.get(one) ?? 'somebody'),
			peopleCount: memberIds.length,
			titles: resourceIds.slice(0, NAMED).map(title),
			titleCount: resourceIds.length
		})),
		moreLines: Math.max(0, lines.length - LINES),
		newcomers: result.newcomers.slice(0, LINES).map(({ planId, kind, at, backAt, resourceIds }) => ({
			plan: names.plans[planId] ?? 'a plan',
			kind,
			at,
			backAt,
			titles: resourceIds.slice(0, NAMED).map(title),
			titleCount: resourceIds.length
		})),
		becomesPublic: result.becomesPublic.map(title),
		closesToPublic: result.closesToPublic.map(title),
		listsOpen: await listWords(app, result.listsOpen),
		listsClose: await listWords(app, result.listsClose)
	};
}

async function listWords(app: App, paths: readonly string[]): Promise<string[]> {
	const lists = new Map((await labelLists(app)).map(({ path, name }) => [path, `the list of ${name}`]));
	return paths.map((path) => (path === '/' ? 'the front page' : (lists.get(path) ?? path)));
}

/** What happens to the same items in the same way is one line: at once, or at one moment. */
function alike({ effects, groups }: KeptRehearsal['result']) {
	const lines = new Map<string, Omit<RehearsedEffect, 'group'> & { memberIds: string[] }>();
	for (const { group, ...effect } of effects) {
		const moment =
			effect.kind === 'gains-now' ? '' : `${effect.kind === 'loses-now' ? '' : effect.at} ${effect.backAt}`;
		const key = `${effect.kind} ${moment} ${effect.resourceIds.join()}`;
		const memberIds = groups[group]?.memberIds ?? [];
		const known = lines.get(key);
		if (known) known.memberIds.push(...memberIds);
		else lines.set(key, { ...effect, memberIds: [...memberIds] });
	}
	return [...lines.values()];
}

/** The rehearsal that a form says yes to. */
export function agreedTo(form: FormData): string | null {
	const value = String(form.get('agreedTo') ?? '');
	return /^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(value) ? value : null;
}
