/** A rehearsal as the Desk shows it before a save. */
import type { RehearsalView } from '$core/access/rehearsal-view';
import {
	byEffect,
	type EffectKind,
	type Outsider,
	type RehearsedEffect,
	type Rehearsal
} from '$core/access/rehearse';
import type { MemberEffect } from '$core/access/rehearse-members';
import type { Using } from '../../app';
import { accountNames } from '../../db/queries/members';
import { labelLists } from '../../rights/label-lists';
import { deskNames } from './names';

const NAMED = 4;
const LINES = 12;

export async function rehearsalView(
	app: Using<'db' | 'rights'>,
	{ id, result }: { id: string; result: Rehearsal }
): Promise<RehearsalView> {
	const names = await deskNames(app);
	const title = await placeTitles(app);
	const lines = alike(result);
	const first = lines.slice(0, LINES);
	const people = await accountNames(
		app.db,
		first.flatMap(({ memberIds }) => memberIds.slice(0, NAMED))
	);
	const some = (placeIds: readonly string[]) => ({
		titles: placeIds.slice(0, NAMED).map(title),
		titleCount: placeIds.length
	});
	const nameOf = (who: Outsider) => {
		if (who.kind === 'joins') {
			const label = names.labels[who.planId];
			return names.plans[who.planId] ?? (label === undefined ? 'a plan' : `With the label “${label}”`);
		}
		return who.kind === 'redeems' ? (names.batches[who.batchId] ?? 'a batch') : '';
	};
	return {
		id,
		hasRows: true,
		members: result.members,
		devices: result.devices,
		lines: first.map(({ kind, at, backAt, placeIds, memberIds, devices }) => ({
			kind,
			at,
			backAt,
			people: memberIds.slice(0, NAMED).map((one) => people.get(one) ?? 'somebody'),
			peopleCount: memberIds.length,
			devices,
			...some(placeIds)
		})),
		moreLines: Math.max(0, lines.length - LINES),
		outsiders: result.outsiders.slice(0, LINES).map(({ who, kind, at, backAt, placeIds }) => ({
			who: who.kind,
			name: nameOf(who),
			kind,
			at,
			backAt,
			...some(placeIds)
		})),
		moreOutsiders: Math.max(0, result.outsiders.length - LINES)
	};
}

/** What would happen to one member, told in the same way. */
export async function memberRehearsal(
	app: Using<'db' | 'rights'>,
	memberId: string,
	{ digest, effects }: { digest: string; effects: readonly MemberEffect[] }
): Promise<RehearsalView> {
	const title = await placeTitles(app);
	const name = (await accountNames(app.db, [memberId])).get(memberId) ?? 'somebody';
	const happens = (kind: EffectKind) => (effects.some((one) => one.kind === kind) ? 1 : 0);
	return {
		id: digest,
		hasRows: false,
		members: byEffect(happens),
		devices: byEffect(() => 0),
		lines: effects.slice(0, LINES).map(({ kind, at, backAt, placeIds }) => ({
			kind,
			at,
			backAt,
			people: [name],
			peopleCount: 1,
			devices: 0,
			titles: placeIds.slice(0, NAMED).map(title),
			titleCount: placeIds.length
		})),
		moreLines: Math.max(0, effects.length - LINES),
		outsiders: [],
		moreOutsiders: 0
	};
}

/** What places are called: resources by their titles, the front page and lists of labels in words. */
export async function placeTitles(app: Using<'db' | 'rights'>): Promise<(placeId: string) => string> {
	const { resources } = await deskNames(app);
	const lists = new Map((await labelLists(app)).map(({ path, name }) => [path, `the list of ${name}`]));
	return (id) => {
		if (id === '/') return 'the front page';
		return id.startsWith('/') ? (lists.get(id) ?? id) : (resources[id]?.title ?? 'a new item');
	};
}

/** What happens to the same places in the same way is one line: at once, or at one moment. */
function alike({ effects, groups }: Rehearsal) {
	const lines = new Map<string, Omit<RehearsedEffect, 'group'> & { memberIds: string[]; devices: number }>();
	for (const { group, ...effect } of effects) {
		const moment =
			effect.kind === 'gains-now' ? '' : `${effect.kind === 'loses-now' ? '' : effect.at} ${effect.backAt}`;
		const key = `${effect.kind} ${moment} ${effect.placeIds.join()}`;
		const { memberIds = [], devices = 0 } = groups[group] ?? {};
		const known = lines.get(key);
		if (known) {
			known.memberIds.push(...memberIds);
			known.devices += devices;
		} else lines.set(key, { ...effect, memberIds: [...memberIds], devices });
	}
	return [...lines.values()];
}
