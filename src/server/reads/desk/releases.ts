/** The release board: what opens when for somebody who joins a plan at a moment. */
import { newcomer } from '$core/access/newcomers';
import { timeline } from '$core/access/timeline';
import { inOrder, outlines, type Outlined } from '$core/library/outline';
import { readLocal } from '$core/time/calendar';
import type { Using } from '../../app';
import { asOf } from './as-of';
import { deskNames } from './names';
import { planNames } from './plans';

const ROWS = 100;
/** One course is laid out as a whole. */
const ROWS_WITHIN = 400;

/** `?plan=…&compare=…&joined=…&within=…&page=…`, at the moment of the rail. */
export async function releaseBoard(app: Using<'clock' | 'db' | 'rights' | 'site'>, url: URL) {
	const { zone } = await app.site();
	const { moment, policy } = await asOf(app, url);
	const plans = await planNames(app);
	const planId = plans.find(({ id }) => id === url.searchParams.get('plan'))?.id ?? plans[0]?.id ?? null;
	const compareId =
		plans.find(({ id }) => id === url.searchParams.get('compare') && id !== planId)?.id ?? null;
	const typed = url.searchParams.get('joined');
	const read = typed ? readLocal(typed, zone) : null;
	const joinedAt = read?.ok ? read.at : moment.now;
	const within = url.searchParams.get('within');
	const { resources } = await deskNames(app);
	const entries = Object.entries(resources).map(([id, one]) => ({ id, ...one }));
	const inside = outlines(entries);
	const all = entries
		.filter(({ id, homeId }) => (within ? id === within : homeId === null))
		.flatMap((root) => [{ ...root, depth: 0 }, ...inOrder(deeper(inside(root.id), 1))])
		.filter(({ kind, address }) => address !== null || kind === 'section');
	const pageSize = within ? ROWS_WITHIN : ROWS;
	const last = Math.max(1, Math.ceil(all.length / pageSize));
	const page = Math.min(last, Math.max(1, Math.floor(Number(url.searchParams.get('page') ?? 1)) || 1));
	const rows = all.slice((page - 1) * pageSize, page * pageSize);
	const stretches = (of: string, id: string) =>
		timeline(policy, newcomer(of, joinedAt), id, joinedAt, null, 'renewals-go-on').map(
			({ start, end, verdict }) => ({ start, end, verdict })
		);
	const released = planId === null ? [] : policy.source.releases.filter((one) => one.planId === planId);
	return {
		moment,
		plans,
		planId,
		compareId,
		within,
		joinedAt,
		rows: rows.map(({ id, title, kind, depth, homeId }) => ({
			id,
			title,
			kind,
			depth,
			homeId,
			own: released.find(({ target }) => target.kind === 'resource' && target.id === id)?.window ?? null,
			found: planId === null ? [] : stretches(planId, id),
			compared: compareId === null ? null : stretches(compareId, id)
		})),
		total: all.length,
		pageSize
	};
}

function deeper<T>(tree: Outlined<T>[], depth: number): Outlined<T & { depth: number }>[] {
	return tree.map(({ entry, inside }) => ({ entry: { ...entry, depth }, inside: deeper(inside, depth + 1) }));
}
