/** A change of access that was saved is taken back: rehearsed like every other, and written as one of its own. */
import { and, eq } from 'drizzle-orm';
import { applied, type Change, type Delta } from '$core/access/delta';
import type { Fence, NamedMember } from '$core/access/model';
import { namingsIn } from '$core/access/namings';
import { compile } from '$core/access/policy';
import { takingBack, type NotTakenBack } from '$core/access/taking-back';
import { isBytes } from '$core/library/homes';
import type { Permission } from '$core/staff/permissions';
import type { Using } from '../../app';
import { DUPLICATE_KEY, errorNumber } from '../../db/connect';
import {
	namedIn,
	allFences,
	policyChange,
	policyChangesAfter,
	type KeptFence
} from '../../db/queries/policy';
import { assetOfItem } from '../../db/queries/library';
import { updateItem } from '../../db/queries/items';
import { changeSettings } from '../../db/queries/settings';
import { rehearsals, releases } from '../../db/schema/access';
import { plans } from '../../db/schema/sales';
import { shownCategories, shownTags } from '../../rights/shown';
import { digestOfDelta, PolicyMoved, type Work } from '../../transact';
import { setTags } from '../library/edit-item';
import { eraseFence, writeFence } from '../fences/save-fence';
import { turnAwayProblem } from '../fences/turn-away-problem';
import { endOpenOrders } from '../sales/end-pay-page';
import { need, type Staff } from '../../people/need';
import { SITE } from '../running/save-site';
import { consentOf, lookingAnew, saveRehearsed, type KeptRehearsal, type Rehearsing } from './rehearsed-save';

export type TakenBack =
	| { kind: 'saved' }
	| { kind: 'rehearsed'; rehearsal: KeptRehearsal }
	/** `sends-in-vain`: whoever is turned away would be turned away again. */
	| { kind: 'refused'; code: NotTakenBack | 'unknown' | 'not-ready' | 'sends-in-vain' };

const NEEDED = {
	resource: 'library',
	fence: 'fences',
	naming: 'fences',
	release: 'releases',
	plan: 'plans',
	site: 'settings'
} as const satisfies Record<Change['kind'], Permission>;

/** The change that somebody said yes to by a rehearsal; `null`: there is none, or it was written otherwise. */
export async function changeAgreedTo(app: Using<'db'>, rehearsalId: string): Promise<number | null> {
	const [row] = await app.db
		.select({ version: rehearsals.version, digest: rehearsals.digest })
		.from(rehearsals)
		.where(eq(rehearsals.id, rehearsalId));
	if (!row) return null;
	for (const { version, delta } of await policyChangesAfter(app.db, row.version))
		if ((await digestOfDelta(delta)) === row.digest) return version;
	return null;
}

/** Whether a change could be taken back now; `null`: it could. */
export async function whyNotTakenBack(
	app: Using<'db' | 'rights'>,
	version: number
): Promise<NotTakenBack | 'unknown' | null> {
	const change = await policyChange(app.db, version);
	if (!change) return 'unknown';
	const back = await backOf(app, change.delta);
	return back.ok ? null : back.code;
}

export async function takeBack(
	app: Rehearsing,
	actor: Staff,
	version: number,
	agreedTo: string | null
): Promise<TakenBack> {
	need(actor, ...Object.values(NEEDED));
	return lookingAnew(app, () => takeBackOnce(app, actor, version, agreedTo)).catch((error: unknown) => {
		// Somebody else was faster with an address.
		if (errorNumber(error) === DUPLICATE_KEY) return { kind: 'refused', code: 'address' };
		throw error;
	});
}

async function takeBackOnce(
	app: Rehearsing,
	actor: Staff,
	version: number,
	agreedTo: string | null
): Promise<TakenBack> {
	need(actor, ...Object.values(NEEDED));
	const change = await policyChange(app.db, version);
	if (!change) return { kind: 'refused', code: 'unknown' };
	const back = await backOf(app, change.delta);
	if (!back.ok) return { kind: 'refused', code: back.code };
	const { delta } = back;
	for (const { kind } of delta) need(actor, NEEDED[kind]);
	if (await showsWhatIsNotReady(app, delta)) return { kind: 'refused', code: 'not-ready' };
	const fences = new Map((await allFences(app.db)).map((fence) => [fence.id, fence]));
	const names = namingsIn(delta);
	const consent = await consentOf(app, agreedTo);
	const ofPolicy = delta.filter(({ kind }) => kind !== 'naming');
	const site = ofPolicy.find((one) => one.kind === 'site')?.after;
	const { source } = await app.rights.policy();
	if (site && turnAwayProblem(compile(applied(source, ofPolicy)), site.turnAway))
		return { kind: 'refused', code: 'sends-in-vain' };
	const write = async (work: Work) => {
		await freeAddresses(work, ofPolicy);
		for (const one of ofPolicy) await writeBack(work, one, fences, names);
		await work.noteAll(
			ofPolicy.map(({ kind, id, before, after }) => ({
				action: 'took-back',
				subject: kind === 'site' ? SITE : { kind: kind === 'resource' ? 'item' : kind, id },
				before,
				after
			}))
		);
	};
	const saved = await saveRehearsed(app, actor, consent, (source) => applied(source, ofPolicy), write, {
		namings: names
	});
	return saved.kind === 'rehearsed' ? saved : { kind: 'saved' };
}

async function backOf(app: Using<'db' | 'rights'>, delta: Delta) {
	const { source } = await app.rights.policy();
	const labels = new Set([...(await shownCategories(app)), ...(await shownTags(app))].map(({ id }) => id));
	return takingBack(source, delta, (id) => labels.has(id));
}

/** Nothing is published again whose film or file is gone. */
async function showsWhatIsNotReady(app: Using<'db'>, delta: Delta): Promise<boolean> {
	for (const one of delta) {
		if (one.kind !== 'resource' || !one.after || !isBytes(one.after.kind)) continue;
		if (one.after.state !== 'published' && one.after.state !== 'scheduled') continue;
		const asset = await assetOfItem(app.db, one.id);
		if (asset?.state !== 'ready' && !asset?.stream) return true;
	}
	return false;
}

async function writeBack(
	work: Work,
	change: Change,
	fences: ReadonlyMap<string, KeptFence>,
	names: ReturnType<typeof namingsIn>
): Promise<void> {
	switch (change.kind) {
		case 'fence':
			return writeFenceBack(work, change.after, fences.get(change.id) ?? null, names);
		case 'release': {
			const { id, after } = change;
			await work.tx.delete(releases).where(eq(releases.id, id));
			if (after) {
				const { planId, target, window } = after;
				// A plan has one release for each target, whatever it was called.
				await work.tx
					.delete(releases)
					.where(
						and(
							eq(releases.planId, planId),
							eq(releases.targetKind, target.kind),
							eq(releases.targetId, target.id)
						)
					);
				await work.tx
					.insert(releases)
					.values({ id, planId, targetKind: target.kind, targetId: target.id, window });
			}
			work.policyChanged('taken back', { releases: [id] });
			return;
		}
		case 'resource': {
			const { after } = change;
			if (!after) return;
			const { state, publishAt, base, homeId, categoryId, address, siteId } = after;
			const decided = { state, publishAt, base, homeId, categoryId, address, siteId };
			await updateItem(work.tx, after, decided, work.now);
			await setTags(work, after.id, after.tagIds);
			work.policyChanged('taken back', { resources: [after.id] });
			return;
		}
		case 'plan': {
			const { after } = change;
			if (!after) return;
			const {
				id,
				isPublic,
				isOnSale,
				ladderId,
				rung,
				afterLapse,
				soldTo = null,
				firstDay = null,
				given
			} = after;
			await work.tx
				.update(plans)
				.set({
					...{ isPublic, isOnSale, ladderId, rung, afterLapse, soldTo, firstDay },
					givenFrom: given?.since ?? null
				})
				.where(eq(plans.id, id));
			if (!isOnSale) await endOpenOrders(work, id);
			work.policyChanged('taken back', { plans: [id] });
			return;
		}
		case 'site': {
			const { after } = change;
			if (!after) return;
			await changeSettings(work.tx, () => after);
			work.policyChanged('taken back', { site: true });
			return;
		}
		case 'naming':
	}
}

/** Two that have changed places: first both addresses are free, then each gets its own. */
async function freeAddresses(work: Work, changes: readonly Change[]): Promise<void> {
	for (const one of changes)
		if (one.kind === 'resource' && one.after && one.before?.address !== one.after.address)
			await updateItem(work.tx, one.after, { address: null }, work.now);
}

async function writeFenceBack(
	work: Work,
	fence: Fence | null,
	current: KeptFence | null,
	names: ReturnType<typeof namingsIn>
): Promise<void> {
	if (!fence) {
		if (current) await eraseFence(work, current);
		return;
	}
	const own = new Set(fence.crossings.map(({ id }) => id));
	const keyOf = ({ crossingId, memberId }: NamedMember) => `${crossingId} ${memberId}`;
	const named = new Map(
		(current ? await namedIn(work.tx, current.crossings) : []).map((one) => [keyOf(one), one])
	);
	for (const { before, after } of names) {
		if (before) named.delete(keyOf(before));
		if (after) named.set(keyOf(after), after);
	}
	const kept = [...named.values()].filter(({ crossingId }) => own.has(crossingId));
	if (!(await writeFence(work, { fence, named: kept }, current, current?.revision ?? 1)))
		throw new PolicyMoved('The fence was saved meanwhile');
}
