import { json } from '@sveltejs/kit';
import { normalisePath, isReserved } from '$core/access/address';
import { inspect } from '$core/access/inspect';
import type { Fence } from '$core/access/model';
import { meetingsOf } from '$core/access/meets';
import { problemOf } from '$core/access/pattern';
import { compile } from '$core/access/policy';
import { FenceIndex } from '$core/access/selector';
import { deskNames } from '$server/reads/desk/names';
import { inspected } from '$server/reads/desk/inspected';
import { readSelector } from '$server/http/read-fence';
import { record } from '$server/http/read-window';
import { withFence } from '$server/usecases/fences/save-fence';
import { namesOf } from '$ui/names';
import { findingWords } from '$ui/wording/fence';
import type { RequestHandler } from './$types';

/** The part of a pattern that cannot be read. */
function markIn({ kind, pattern }: Record<string, unknown>): { at: number; length: number } | null {
	const problem = kind === 'pattern' && typeof pattern === 'string' ? problemOf(pattern) : null;
	return problem?.code === 'not-readable' ? { at: problem.at, length: problem.length } : null;
}

const SHOWN = 200;
const MEETINGS_SHOWN = 5;
const DRAFT = '00000000-0000-7000-8000-0000000000f0';

/** What a fence would catch, as it stands in the editor. */
export const POST: RequestHandler = async ({ locals: { app }, request }) => {
	const ask = record(await request.json());
	const read = readSelector(record(ask.selector));
	if (!read.ok)
		return json({
			message: read.message,
			mark: markIn(record(ask.selector)),
			items: [],
			lost: [],
			total: 0,
			findings: [],
			meets: [],
			tested: null
		});
	const known = await app.rights.policy();
	const { source } = known;
	const before = source.fences.find(({ id }) => id === ask.id);
	const id = before?.id ?? DRAFT;
	const fence: Fence = {
		...(before ?? {
			name: '',
			isOn: true,
			mode: 'replaces',
			crossings: [],
			turnAway: null,
			listing: 'shown',
			createdAt: 0
		}),
		id,
		isOn: true,
		selector: read.value
	};
	const was = new Set(before ? inspected(known, app.clock.business()).caught.get(id) : []);
	const policy = compile(withFence(fence)(source));
	const { caught, findings } = inspect(policy, app.clock.business());
	const own = caught.get(id) ?? [];
	const is = new Set(own);
	const all = await deskNames(app);
	const { resources } = all;
	const names = namesOf(all, (await app.site()).zone);
	const named = (one: string) => ({
		id: one,
		title: resources[one]?.title ?? '',
		kind: resources[one]?.kind ?? '',
		address: resources[one]?.address ?? null
	});
	return json({
		message: null,
		mark: null,
		items: own
			.slice(0, SHOWN)
			.map((one) => ({ ...named(one), isNew: before !== undefined && !was.has(one) })),
		lost: [...was]
			.filter((one) => !is.has(one))
			.slice(0, SHOWN)
			.map(named),
		total: own.length,
		findings: findings
			.filter(
				(one) =>
					('fenceId' in one && one.fenceId === id && one.code !== 'is-off') ||
					('fenceIds' in one && one.fenceIds.includes(id))
			)
			.map((one) => findingWords(one, names)),
		meets: meetingsOf(policy, id, own)
			.slice(0, MEETINGS_SHOWN)
			.map(({ fenceId, exampleId, count }) => ({
				id: fenceId,
				name: names.fence(fenceId),
				example: names.resource(exampleId),
				count
			})),
		tested: testedWords(ask.test, fence, policy)
	});
};

function testedWords(test: unknown, fence: Fence, policy: ReturnType<typeof compile>): string | null {
	const typed = typeof test === 'string' ? test.trim() : '';
	if (typed === '') return null;
	const normal = normalisePath(typed.replace(/^[a-z]+:\/\/[^/]+/i, '') || '/');
	if (!normal.ok) return 'This is no address.';
	if (isReserved(normal.path)) return 'No: this address can never be fenced.';
	const resource = policy.byAddress.get(normal.path) ?? null;
	const place = { resource, address: normal.path, homes: resource ? policy.homesOf(resource) : [] };
	const isCaught = FenceIndex.of([fence]).catching(place).length > 0;
	return `${isCaught ? 'Yes' : 'No'}${resource ? '' : ', though nothing has this address'}.`;
}
