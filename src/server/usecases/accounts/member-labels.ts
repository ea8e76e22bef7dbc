/** Labels on members: what only staff give, and an audience of fences. Each is held like a plan, without a price. */
import { createHash } from 'node:crypto';
import { and, eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { DONE, notDone, type Done } from '../../done';
import { DUPLICATE_KEY, errorNumber } from '../../db/connect';
import type { Handle } from '../../db/connect';
import { grants } from '../../db/schema/access';
import { plans } from '../../db/schema/sales';
import { need, type Staff } from '../../people/need';
import { transact, type Transacting } from '../../transact';
import { revokeGrants } from '../access/granting';

/** Unlike any address of a plan; two labels of one name cannot be. */
function slugOfLabel(name: string): string {
	return `label:${createHash('sha256').update(name.toLowerCase()).digest('hex').slice(0, 40)}`;
}

export function labelRow(id: string, name: string, createdAt: number): typeof plans.$inferInsert {
	return {
		...{ id, name, slug: slugOfLabel(name), lines: [], isPublic: false, isOnSale: false },
		...{ afterLapse: 'on' as const, isLabel: true, createdAt }
	};
}

async function labelNamed(db: Handle, name: string): Promise<string | null> {
	const [row] = await db
		.select({ id: plans.id })
		.from(plans)
		.where(eq(plans.slug, slugOfLabel(name)));
	return row?.id ?? null;
}

/** The label of a name, made where there is none yet. */
export async function memberLabelOf(app: Transacting, actor: Staff, name: string): Promise<string> {
	need(actor, 'members');
	const known = await labelNamed(app.db, name);
	if (known !== null) return known;
	try {
		return await transact(app, actor, async (work) => {
			const id = uuidv7();
			await work.tx.insert(plans).values(labelRow(id, name, work.now));
			await work.note({ action: 'made-label', subject: { kind: 'plan', id }, after: { name } });
			work.policyChanged('label made', { plans: [id] });
			return id;
		});
	} catch (error) {
		const theirs = errorNumber(error) === DUPLICATE_KEY ? await labelNamed(app.db, name) : null;
		// Somebody else made it at the same moment.
		if (theirs !== null) return theirs;
		throw error;
	}
}

export async function renameMemberLabel(
	app: Transacting,
	actor: Staff,
	labelId: string,
	name: string
): Promise<Done<'unknown' | 'taken'>> {
	need(actor, 'members');
	try {
		return await transact(app, actor, async (work) => {
			const [before] = await work.tx
				.select({ name: plans.name })
				.from(plans)
				.where(and(eq(plans.id, labelId), eq(plans.isLabel, true)))
				.for('update');
			if (!before) return notDone('unknown');
			await work.tx
				.update(plans)
				.set({ name, slug: slugOfLabel(name) })
				.where(eq(plans.id, labelId));
			await work.note({
				action: 'renamed-label',
				subject: { kind: 'plan', id: labelId },
				before,
				after: { name }
			});
			work.contentChanged();
			return DONE;
		});
	} catch (error) {
		if (errorNumber(error) === DUPLICATE_KEY) return notDone('taken');
		throw error;
	}
}

export type Removed =
	{ ok: true } | { ok: false; code: 'unknown' } | { ok: false; code: 'let-in'; fences: string[] };

/** Takes a label off everybody, and away. One by which a fence lets somebody in stays: nothing opens or shuts by this. */
export async function removeMemberLabel(app: Transacting, actor: Staff, labelId: string): Promise<Removed> {
	need(actor, 'members');
	const policy = await app.rights.policy();
	const fences = policy.source.fences.filter(({ crossings }) =>
		crossings.some(({ audience }) => audience.kind === 'holders' && audience.planIds.includes(labelId))
	);
	if (fences.length > 0) return { ok: false, code: 'let-in', fences: fences.map(({ name }) => name) };
	return transact<Removed>(app, actor, async (work) => {
		const [label] = await work.tx
			.select({ name: plans.name })
			.from(plans)
			.where(and(eq(plans.id, labelId), eq(plans.isLabel, true)))
			.for('update');
		if (!label) return { ok: false, code: 'unknown' };
		await revokeGrants(work, eq(grants.planId, labelId), { keepsProofs: true });
		await work.tx.delete(plans).where(eq(plans.id, labelId));
		await work.note({ action: 'removed-label', subject: { kind: 'plan', id: labelId }, before: label });
		work.policyChanged('label removed', { plans: [labelId] });
		return { ok: true };
	});
}
