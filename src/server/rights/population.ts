/**
 * Everybody's standing, in memory once somebody asked for it: rehearsals, matrices and coming releases look at all members.
 *
 * What changes is told by `Rights`, and read anew when it is asked for the next time: ten thousand members are read once,
 * and after that only those who came, went, paid or were given something.
 */
import type { Member } from '$core/access/model';
import { groupByStanding, type Group, type MemberGroup } from '$core/access/rehearse';
import type { Db } from '../db/connect';
import { population, viewersOfDevices } from '../db/queries/members';
import type { Rights } from './rights';

/** More than this changed: then everybody is read again. */
const MOST_STALE = 2000;
const AT_ONCE = 500;

export class Population {
	private members: Map<string, Member> | null = null;
	private stale = new Set<string>();
	private reading: Promise<Map<string, Member>> | null = null;
	/** Grows when nothing is known any more: what was being read by then is not kept. */
	private generation = 0;
	/** Worked out from the members as they were: it holds as long as these are the ones that are known. */
	private grouped: { of: ReadonlyMap<string, Member>; key: string; groups: MemberGroup[] } | null = null;

	constructor(
		private readonly db: Db,
		private readonly rights: Rights
	) {
		rights.tell((ids) => {
			if (ids === 'all') {
				this.generation++;
				this.members = null;
			} else for (const id of ids) this.stale.add(id);
		});
	}

	/** By id, in the order in which they came; no older than a second. */
	async all(): Promise<ReadonlyMap<string, Member>> {
		await this.rights.policy();
		// Who comes while others read waits for them, and then looks whether anything has changed since.
		while (this.reading) await this.reading;
		if (this.members && this.stale.size === 0) return this.members;
		this.reading = this.read().finally(() => (this.reading = null));
		return this.reading;
	}

	/** Members of equal standing together. @param alone ids of those who stand alone, whatever they have */
	async groups(alone: ReadonlySet<string> = new Set()): Promise<MemberGroup[]> {
		const members = await this.all();
		const key = [...alone].sort().join();
		const kept = this.grouped;
		if (kept?.key === key && kept.of === members) return kept.groups;
		const groups = groupByStanding([...members.values()], alone);
		this.grouped = { of: members, key, groups };
		return groups;
	}

	/** Devices without an account that hold codes of some batches, or a plan by a code; those alike together. */
	async devices(batchIds: ReadonlySet<string>): Promise<Group[]> {
		const groups = new Map<string, Group>();
		for (const viewer of await viewersOfDevices(this.db, [...batchIds])) {
			const key = [
				...viewer.redemptions.map(({ batchId, at }) => `${batchId} ${at}`),
				...viewer.grants.map(({ planId, from, until }) => `${planId} ${from} ${until}`)
			].join();
			const known = groups.get(key);
			if (known) known.devices++;
			else groups.set(key, { viewer, memberIds: [], devices: 1 });
		}
		return [...groups.values()];
	}

	private async read(): Promise<Map<string, Member>> {
		const { generation } = this;
		const stale = [...this.stale];
		this.stale = new Set();
		try {
			let members = this.members;
			if (!members || stale.length > MOST_STALE) {
				members = new Map((await population(this.db)).map((one) => [one.id, one]));
			} else {
				members = new Map(members);
				for (let n = 0; n < stale.length; n += AT_ONCE) {
					const some = stale.slice(n, n + AT_ONCE);
					const found = new Map((await population(this.db, some)).map((one) => [one.id, one]));
					for (const id of some) {
						const one = found.get(id);
						if (one) members.set(id, one);
						else members.delete(id);
					}
				}
			}
			if (generation === this.generation) this.members = members;
			return members;
		} catch (error) {
			for (const id of stale) this.stale.add(id);
			throw error;
		}
	}
}
