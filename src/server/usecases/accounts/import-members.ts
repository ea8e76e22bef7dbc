/**
 * Brings members in by a table: tried first, then written together. Who is new gets an account, and the way in by mail if that
 * is wished; who is there keeps their name. What it moves for whoever is there is rehearsed.
 */
import { inArray } from 'drizzle-orm';
import type { Member } from '$core/access/model';
import { goesOn, rehearsingMembers, withGiven, type ChangedMember } from '$core/access/rehearse-members';
import {
	readMembers,
	type MemberColumn,
	type MemberRow,
	type MemberRowProblem,
	type ReadMembers
} from '$core/members/table';
import { rowsToMend, type TakenAs, type TakenColumn } from '$core/text/columns';
import type { Using } from '../../app';
import { DUPLICATE_KEY, errorNumber } from '../../db/connect';
import { accountById, accountsByEmail, population } from '../../db/queries/members';
import { accounts } from '../../db/schema/people';
import { plans } from '../../db/schema/sales';
import { inPieces } from '../../in-pieces';
import { need, type Staff } from '../../people/need';
import { digestOf, transact, type AuditNote, type Work } from '../../transact';
import {
	consentOf,
	keepRehearsal,
	type KeptRehearsal,
	type Mint,
	type Rehearsing
} from '../access/rehearsed-save';
import { cellsOf, type Counting } from '../csv-cells';
import { labelRow } from './member-labels';
import { happening } from './run-many';
import { endUnproved, unprovedOf } from './proving';
import { grantTo } from '../access/granting';

export interface MembersTable {
	csv: string;
	taken?: TakenAs<MemberColumn>;
	/** Whoever is new is mailed the way in. */
	invites: boolean;
}

export type TriedMembers =
	| {
			ok: false;
			code: Extract<ReadMembers, { ok: false }>['code'] | 'not-a-table';
			seen: string;
			columns: TakenColumn<MemberColumn>[];
	  }
	| {
			ok: true;
			rows: { line: number; email: string; does: 'adds' | 'changes' | 'leaves' }[];
			problems: MemberRowProblem[];
			columns: TakenColumn<MemberColumn>[];
			/** How many get each plan. */
			plans: { name: string; count: number }[];
			/** How many get each label; new ones are made. */
			labels: { name: string; count: number; isNew: boolean }[];
	  };

export type ImportedMembers =
	| { kind: 'saved'; added: number; changed: number }
	/** @param unproved of those who are there, whoever paid on the address is signed out */
	| { kind: 'rehearsed'; rehearsal: KeptRehearsal; unproved: number }
	| { kind: 'refused'; code: 'has-problems' };

const AT_ONCE = 500;
const TRIES = 5;

interface Given {
	planId: string;
	isLabel: boolean;
	from: number;
	until: number | null;
	/** From when releases count. */
	joined: number;
}

/** What becomes of one row. */
interface RowChange {
	row: MemberRow;
	memberId: string;
	/** `null`: they are new. */
	before: Member | null;
	given: Given[];
}

interface Change {
	rows: RowChange[];
	problems: MemberRowProblem[];
	newLabels: { id: string; name: string }[];
	names: Map<string, string>;
}

/** What the table would do. Nothing is written. */
export async function tryMembers(
	app: Rehearsing & Using<'site'>,
	table: MembersTable,
	counting?: Counting
): Promise<TriedMembers> {
	const { mint } = await consentOf(app, null);
	const read = await readCsv(app, table, mint.at);
	if (!read.ok) return read;
	const change = await changeOf(app, read.rows, mint, counting);
	const counts = (isLabel: boolean) => {
		const found = new Map<string, number>();
		for (const { planId } of change.rows.flatMap(({ given }) =>
			given.filter((one) => one.isLabel === isLabel)
		))
			found.set(planId, (found.get(planId) ?? 0) + 1);
		return [...found].map(([id, count]) => ({ id, name: change.names.get(id) ?? '', count }));
	};
	return {
		ok: true,
		rows: change.rows.map(({ row, before, given }) => ({
			line: row.line,
			email: row.email,
			does: before === null ? 'adds' : given.length > 0 ? 'changes' : 'leaves'
		})),
		problems: [...read.problems, ...change.problems],
		columns: read.columns,
		plans: counts(false).map(({ name, count }) => ({ name, count })),
		labels: counts(true).map(({ id, name, count }) => ({
			...{ name, count },
			isNew: change.newLabels.some((one) => one.id === id)
		}))
	};
}

/** The rows of a table that will not do, to be mended. @param words of what is wrong with one */
export async function membersToMend(
	app: Rehearsing & Using<'site'>,
	table: MembersTable,
	words: (problem: MemberRowProblem) => string
): Promise<string[][]> {
	const cells = await cellsOf(table.csv);
	const tried = await tryMembers(app, table);
	if (!cells.ok || !tried.ok) return [];
	return rowsToMend(
		cells.cells,
		tried.problems.map((one) => ({ line: one.line, words: words(one) }))
	);
}

/** Writes what `tryMembers` found without problems, once somebody has said yes to what it moves. */
export async function importMembers(
	app: Rehearsing & Using<'site'>,
	actor: Staff,
	table: MembersTable,
	agreedTo: string | null,
	counting?: Counting
): Promise<ImportedMembers> {
	need(actor, 'members');
	for (let attempt = 1; ; attempt++) {
		const consent = await consentOf(app, agreedTo);
		const read = await readCsv(app, table, consent.mint.at);
		if (!read.ok || read.problems.length > 0) return { kind: 'refused', code: 'has-problems' };
		const change = await changeOf(app, read.rows, consent.mint, counting);
		if (change.problems.length > 0) return { kind: 'refused', code: 'has-problems' };
		const changed = change.rows.flatMap(({ before, given }): ChangedMember[] =>
			before && given.length > 0 ? [{ before, after: given.reduce(withGiven, before) }] : []
		);
		const policy = await app.rights.policy();
		const now = app.clock.business();
		const result = await inPieces(rehearsingMembers(policy, changed, now, 'renewals-go-on'));
		const unproved = await unprovedOf(
			app.db,
			changed.map(({ before }) => before.id)
		);
		const wish = change.rows.map(({ row, memberId, given }) => ({ row, memberId, given }));
		const of = changed.map(({ before }) => before);
		const digest = digestOf({ wish, invites: table.invites, of, unproved, happens: happening(result) });
		if ((result.effects.length > 0 || unproved.length > 0) && consent.agreed?.digest !== digest) {
			const { version } = app.rights.known();
			const rehearsal = await keepRehearsal(app, consent, { version, digest }, result);
			return { kind: 'rehearsed', rehearsal, unproved: unproved.length };
		}
		const isSaved = await write(app, actor, change, table.invites, consent.mint.at).catch(
			(error: unknown) => {
				// Somebody else added one of them, or made one of the labels, at the same moment.
				if (errorNumber(error) === DUPLICATE_KEY) return false;
				throw error;
			}
		);
		const added = change.rows.filter(({ before }) => before === null).length;
		if (isSaved) return { kind: 'saved', added, changed: changed.length };
		if (attempt >= TRIES)
			throw new Error('Members changed again and again while a table of them was brought in');
		await app.rights.refresh();
	}
}

async function readCsv(app: Using<'site'>, { csv, taken = {} }: MembersTable, now: number) {
	const read = await cellsOf(csv);
	return read.ok ? readMembers(read.cells, (await app.site()).zone, now, taken) : read;
}

async function changeOf(
	app: Rehearsing,
	rows: readonly MemberRow[],
	mint: Mint,
	counting?: Counting
): Promise<Change> {
	counting?.expect(rows.length);
	const known = await accountsByEmail(
		app.db,
		rows.map(({ email }) => email)
	);
	const everybody = await app.population.all();
	const all = await app.db.select({ id: plans.id, name: plans.name, isLabel: plans.isLabel }).from(plans);
	const named = (isLabel: boolean) =>
		new Map(all.filter((one) => one.isLabel === isLabel).map((one) => [one.name.toLowerCase(), one.id]));
	const [ofPlans, ofLabels] = [named(false), named(true)];
	const change: Change = {
		rows: [],
		problems: [],
		newLabels: [],
		names: new Map(all.map(({ id, name }) => [id, name]))
	};
	for (const row of rows) {
		counting?.step();
		const account = known.get(row.email) ?? null;
		const problem = (column: MemberColumn, code: MemberRowProblem['code'], seen: string) =>
			void change.problems.push({ line: row.line, column, code, seen });
		if (account && account.role !== 'member') problem('email', 'is-staff', row.email);
		const given: Given[] = [];
		const from = row.from ?? mint.at;
		if (row.plan !== '') {
			const planId = ofPlans.get(row.plan.toLowerCase());
			if (planId === undefined) problem('plan', 'unknown-plan', row.plan);
			else given.push({ planId, isLabel: false, from, until: row.until, joined: row.joined ?? from });
		}
		for (const name of row.labels) {
			const key = name.toLowerCase();
			const planId = ofLabels.get(key) ?? mint.id(`label ${key}`);
			if (!ofLabels.has(key)) {
				ofLabels.set(key, planId);
				change.newLabels.push({ id: planId, name });
				change.names.set(planId, name);
			}
			given.push({ planId, isLabel: true, from: mint.at, until: null, joined: mint.at });
		}
		const before = account ? (everybody.get(account.id) ?? null) : null;
		const memberId = account?.id ?? mint.id(`member ${row.email}`);
		change.rows.push({ row, memberId, before, given: given.filter((one) => !isHeld(before, one)) });
	}
	return change;
}

/** Whether somebody has it already, from then on and for so long. */
function isHeld(member: Member | null, { planId, from, until }: Given): boolean {
	return Boolean(
		member?.grants.some(
			(one) =>
				one.planId === planId &&
				one.from <= from &&
				goesOn(one, from) &&
				(one.until === null || (until !== null && one.until >= until))
		)
	);
}

/** `false`: somebody whom it changes is another by now, or a label or plan is gone; nothing is written. */
async function write(
	app: Rehearsing,
	actor: Staff,
	{ rows, newLabels }: Change,
	invites: boolean,
	at: number
): Promise<boolean> {
	return transact(app, actor, async (work) => {
		const wanted = [...new Set(rows.flatMap(({ given }) => given.map(({ planId }) => planId)))].filter(
			(id) => !newLabels.some((one) => one.id === id)
		);
		if (!(await areThere(work, wanted))) return false;
		if (newLabels.length > 0) {
			await work.tx.insert(plans).values(newLabels.map(({ id, name }) => labelRow(id, name, work.now)));
			await work.noteAll(
				newLabels.map(({ id, name }) => ({
					...{ action: 'made-label', subject: { kind: 'plan', id }, after: { name } }
				}))
			);
			work.policyChanged('labels made', { plans: newLabels.map(({ id }) => id) });
		}
		for (let n = 0; n < rows.length; n += AT_ONCE) {
			const some = rows.slice(n, n + AT_ONCE);
			if (!(await areStill(work, some))) return moved();
			await writeSome(work, some, invites, at);
		}
		return true;
	}).catch((error: unknown) => {
		if (error instanceof Moved) return false;
		throw error;
	});
}

/** Takes back what was written of it so far. */
class Moved extends Error {
	readonly code = 'moved';
}
function moved(): never {
	throw new Moved('Somebody is another by now');
}

async function areThere({ tx }: Work, planIds: readonly string[]): Promise<boolean> {
	if (planIds.length === 0) return true;
	const found = await tx
		.select({ id: plans.id })
		.from(plans)
		.where(inArray(plans.id, [...planIds]))
		.for('update');
	return found.length === planIds.length;
}

async function areStill({ tx }: Work, rows: readonly RowChange[]): Promise<boolean> {
	const before = new Map(
		rows.flatMap((one) => (one.before ? [[one.memberId, digestOf(one.before)] as const] : []))
	);
	const ids = [...before.keys()].sort();
	if (ids.length === 0) return true;
	await tx
		.select({ id: accounts.id })
		.from(accounts)
		.where(inArray(accounts.id, ids))
		.orderBy(accounts.id)
		.for('update');
	const present = await population(tx, ids);
	return present.length === ids.length && present.every((one) => digestOf(one) === before.get(one.id));
}

async function writeSome(
	work: Work,
	rows: readonly RowChange[],
	invites: boolean,
	at: number
): Promise<void> {
	const { tx } = work;
	const fresh = rows.filter(({ before }) => before === null);
	if (fresh.length > 0)
		await tx.insert(accounts).values(
			fresh.map(({ memberId, row }) => ({
				...{ id: memberId, email: row.email, name: row.name || row.email },
				...{ role: 'member' as const, createdAt: at }
			}))
		);
	const notes: AuditNote[] = fresh.map(({ memberId }) => ({
		...{ action: 'added-member', subject: { kind: 'account', id: memberId }, memberId }
	}));
	const given = rows.flatMap(({ memberId, given }) => given.map((one) => ({ memberId, ...one })));
	for (const { memberId } of rows.filter(({ before, given }) => before !== null && given.length > 0)) {
		const account = await accountById(tx, memberId);
		// What the publisher gives is for whose mailbox it is, and not for whoever has paid on the address.
		if (account && account.claimedAt !== null && (await endUnproved(work, account)))
			await work.queue('mail', { occasion: 'invitation', memberId, planId: null }, { memberId });
	}
	await work.noteAll(notes);
	await grantTo(
		work,
		given.map(({ memberId, planId, from, until, joined, isLabel }) => ({
			...{ memberId, planId, from, until, firstDay: joined, isLabel },
			...{ source: 'import' as const, by: 'import' }
		}))
	);
	for (const { memberId, before, given } of rows)
		if (before === null || given.length > 0) work.standingChanged(memberId);
	if (!invites) return;
	for (const { memberId, given } of fresh) {
		const planId = given.find(({ isLabel }) => !isLabel)?.planId ?? null;
		await work.queue('mail', { occasion: 'invitation', memberId, planId }, { memberId });
	}
}
