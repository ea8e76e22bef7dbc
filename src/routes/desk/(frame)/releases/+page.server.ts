import { fail } from '@sveltejs/kit';
import { newcomer } from '$core/access/rehearse';
import { timeline } from '$core/access/timeline';
import { inOrder, outlines } from '$core/library/outline';
import { readLocal } from '$core/time/calendar';
import { plansWithPrices } from '$server/db/queries/sales';
import { asOf } from '$server/http/as-of';
import { deskNames } from '$server/http/names';
import { readWindow, record } from '$server/http/read-window';
import { agreedTo, rehearsalView } from '$server/http/rehearsal-view';
import { saveReleases, type ReleaseWish } from '$server/usecases/access/save-releases';
import { readForm } from '$server/http/parse';
import type { Actions, PageServerLoad } from './$types';

const ROWS = 100;
/** One course is laid out as a whole. */
const ROWS_WITHIN = 400;

export const load: PageServerLoad = async ({ locals: { app }, url }) => {
	const { zone } = await app.site();
	const { moment, policy } = await asOf(app, url);
	const plans = (await plansWithPrices(app.db)).map(({ id, name }) => ({ id, name }));
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
};

interface Tree<T> {
	entry: T;
	inside: Tree<T>[];
}

function deeper<T>(tree: Tree<T>[], depth: number): Tree<T & { depth: number }>[] {
	return tree.map(({ entry, inside }) => ({ entry: { ...entry, depth }, inside: deeper(inside, depth + 1) }));
}

export const actions: Actions = {
	save: async ({ locals: { app, viewer }, request }) => {
		const form = await readForm(request);
		const { zone } = await app.site();
		const raw = parsed(form.get('changes'));
		const wishes: ReleaseWish[] = [];
		const notes: string[] = [];
		for (const [id, value] of Object.entries(raw)) {
			const { isRemoved, ...window } = record(value);
			if (isRemoved === true) {
				wishes.push({ target: { kind: 'resource', id }, window: null });
				continue;
			}
			const read = readWindow(window, zone);
			if (!read.ok) return fail(400, { problem: read.message, problemAt: id });
			notes.push(...read.notes);
			// "At once, never" is a release of its own here: it keeps a wider one from counting.
			wishes.push({
				target: { kind: 'resource', id },
				window: read.value ?? { opens: { kind: 'at-once' }, closes: { kind: 'never' } }
			});
		}
		if (wishes.length === 0) return fail(400, { problem: 'Nothing was changed.', problemAt: '' });
		const saved = await saveReleases(app, viewer, String(form.get('plan') ?? ''), wishes, agreedTo(form));
		if (saved.kind === 'refused')
			return fail(409, {
				problem: 'The plan or an item does not exist any more. Load the page again.',
				problemAt: ''
			});
		if (saved.kind === 'rehearsed')
			return fail(409, { rehearsal: await rehearsalView(app, saved.rehearsal) });
		return { saved: ['Saved. It counts from now on.', ...notes].join(' ') };
	}
};

function parsed(value: FormDataEntryValue | null): Record<string, unknown> {
	try {
		return record(JSON.parse(String(value ?? '{}')));
	} catch {
		return {};
	}
}
