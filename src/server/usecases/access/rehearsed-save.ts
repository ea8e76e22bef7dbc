/**
 * Saves that move access: first it is worked out what they would do, and when that is anything at all, somebody has to
 * say yes. The yes names the policy that it was said for; if that is not the policy in force any more, it is asked again.
 */
import { setImmediate as pause } from 'node:timers/promises';
import { v7 as uuidv7 } from 'uuid';
import type { PolicySource } from '$core/access/model';
import { compile } from '$core/access/policy';
import { changesNothing, groupByStanding, namedIn, rehearsing, type Rehearsal } from '$core/access/rehearse';
import type { Actor, App } from '../../app';
import { population } from '../../db/queries/members';
import { policySource, policyVersionNumber } from '../../db/queries/policy';
import { rightsCounter } from '../../db/schema/access';
import { transact, type Work } from '../../transact';

/** What a change would do, kept for a while so that its lists can be looked at. */
export interface KeptRehearsal {
	id: string;
	/** The policy that it was worked out against. */
	version: number;
	result: Rehearsal;
}

export type Saved<T> = { kind: 'saved'; value: T } | { kind: 'rehearsed'; rehearsal: KeptRehearsal };

/** Saves, and says yes to whatever it would do: for scripts that nobody watches. */
export async function agreeing<T extends { kind: string }>(
	save: (agreedTo: number | null) => Promise<T | { kind: 'rehearsed'; rehearsal: KeptRehearsal }>
): Promise<T> {
	const first = await save(null);
	const last =
		first.kind === 'rehearsed' && 'rehearsal' in first
			? await save((first.rehearsal as KeptRehearsal).version)
			: first;
	if (last.kind === 'rehearsed') throw new Error('The policy changed while it was saved');
	return last as T;
}

class StalePolicy extends Error {
	readonly code = 'stale-policy';
}

const TRIES = 5;
const KEPT_MS = 30 * 60_000;
const KEPT_COUNT = 50;

const kept = new Map<string, KeptRehearsal & { at: number }>();

export function keptRehearsal(id: string): KeptRehearsal | null {
	return kept.get(id) ?? null;
}

/**
 * `change` says what the save does to the policy; `save` does it. `agreedTo`: the policy version of the rehearsal that was
 * agreed to.
 */
export async function saveRehearsed<T>(
	app: App,
	actor: Actor,
	agreedTo: number | null,
	change: (source: PolicySource) => PolicySource,
	save: (work: Work) => Promise<T>,
	signal?: AbortSignal
): Promise<Saved<T>> {
	for (let attempt = 1; ; attempt++) {
		const version = await policyVersionNumber(app.db);
		if (agreedTo !== version) {
			const rehearsal = await rehearseChange(app, change, signal);
			if (!changesNothing(rehearsal.result)) return { kind: 'rehearsed', rehearsal };
		}
		try {
			const value = await transact(app, actor, async (work) => {
				await expectPolicy(work, version);
				return save(work);
			});
			return { kind: 'saved', value };
		} catch (error) {
			// Somebody else saved in the meantime: work it out again.
			if (!(error instanceof StalePolicy) || attempt >= TRIES) throw error;
		}
	}
}

/** Locks the counter, so that no other change of the policy comes between. */
async function expectPolicy({ tx }: Work, version: number): Promise<void> {
	await tx.select().from(rightsCounter).for('update');
	if ((await policyVersionNumber(tx)) !== version) throw new StalePolicy('The policy has changed');
}

export async function rehearseChange(
	app: App,
	change: (source: PolicySource) => PolicySource,
	signal?: AbortSignal
): Promise<KeptRehearsal> {
	const version = await policyVersionNumber(app.db);
	const source = await policySource(app.db);
	const before = compile(source);
	const after = compile(change(source));
	const members = await population(app.db);
	const groups = groupByStanding(members, namedIn(before, after));
	const work = rehearsing({ before, after, groups, from: app.clock.business(), assume: 'renewals-go-on' });
	for (let step = work.next(); ; step = work.next()) {
		signal?.throwIfAborted();
		if (step.done) return keep(app, { id: uuidv7(), version, result: step.value });
		await pause();
	}
}

function keep(app: App, rehearsal: KeptRehearsal): KeptRehearsal {
	const now = app.clock.wall();
	for (const [id, { at }] of kept) if (now - at > KEPT_MS || kept.size >= KEPT_COUNT) kept.delete(id);
	kept.set(rehearsal.id, { ...rehearsal, at: now });
	return rehearsal;
}
