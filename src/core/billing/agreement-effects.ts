/** What is to be done about an agreement now that was not to be done before; somebody else carries it out. */
import type { Instant } from '../time/instant';
import type { Course } from './agreement-course';
import type { AgreementEvent, Charge } from './agreement-facts';
import { announcementOf } from './announcing';
import { phaseOf } from './phases';

export type Effect =
	| ({ kind: 'charge' } & Charge)
	| { kind: 'schedule'; event: AgreementEvent; at: Instant }
	/** A grant that is in force gets that end; `null`: none. */
	| { kind: 'open-until'; until: Instant | null }
	/** Another grant: it was shut, or it is another plan's. */
	| { kind: 'open-anew'; planId: string; from: Instant; until: Instant | null }
	| { kind: 'shut' }
	| ({ kind: 'give-back' } & Charge)
	/** What is due for a period is told of at a moment. */
	| { kind: 'announce'; period: number; at: Instant }
	| { kind: 'tell'; message: Message };

export type Message =
	| 'renewed'
	| 'payment-declined'
	| 'lapsed'
	| 'cancelled'
	| 'resumed'
	| 'rests'
	| 'goes-on'
	| 'finished'
	/** To another price, at once. */
	| 'moved'
	/** To a lower plan at once, for what is paid. */
	| 'lowered'
	/** To another price, or back to the present one, with the next due. */
	| 'moves-later'
	/** The publisher asks for something else from the next due on. */
	| 'price-changes'
	| 'stays';

/** @param before `null` for one that just began: its grant is written with it */
export function effectsOf(before: Course | null, after: Course): Effect[] {
	const effects: Effect[] = [...openingOf(before, after)];
	if (after.charge && !isSame(before?.charge, after.charge))
		effects.push({ kind: 'charge', ...after.charge });
	if (after.due && !isSame(before?.due, after.due)) effects.push({ kind: 'schedule', ...after.due });
	const announced = announcementOf(after);
	if (announced && !isSame(before && announcementOf(before), announced))
		effects.push({ kind: 'announce', period: announced.period, at: announced.at });
	for (const charge of after.surplus)
		if (!before?.surplus.some((one) => isSame(one, charge))) effects.push({ kind: 'give-back', ...charge });
	const message = before && messageOf(before, after);
	if (message) effects.push({ kind: 'tell', message });
	return effects;
}

function openingOf(before: Course | null, { open }: Course): Effect[] {
	const was = before?.open ?? null;
	// One that begins when it is over for everybody opens nothing: its grant is written with it all the same.
	if (open === null) return was || !before ? [{ kind: 'shut' }] : [];
	const { planId, from, until } = open;
	if (before && (was?.from !== from || was.planId !== planId)) {
		// A grant that has run out by itself stays as it was.
		const isUnderWay = was !== null && (was.until === null || was.until > from);
		return [...(isUnderWay ? [{ kind: 'shut' as const }] : []), { kind: 'open-anew', planId, from, until }];
	}
	return before && was?.until === until ? [] : [{ kind: 'open-until', until }];
}

function isSame(a: unknown, b: unknown): boolean {
	return JSON.stringify(a) === JSON.stringify(b);
}

function messageOf(before: Course, after: Course): Message | null {
	const { state: was } = before;
	const { state, open } = after;
	if (isMoved(before, after)) return 'moved';
	if (isSame(was, state)) return turnOf(before, after);
	switch (state.kind) {
		case 'first':
		case 'running':
			if (was.kind === 'ending') return 'resumed';
			if (was.kind === 'resting' && state.period === was.period) return 'goes-on';
			return isAsking(was.kind) || state.period > was.period ? 'renewed' : null;
		case 'finished':
			return isAsking(was.kind) || state.period > was.period ? 'finished' : null;
		case 'renewing':
			return null;
		case 'resting':
			return 'rests';
		case 'owing':
			return 'payment-declined';
		case 'ending':
			return 'cancelled';
		case 'ended':
			if (state.why === 'unpaid') return 'lapsed';
			// What was cancelled before has been said to end.
			return state.why === 'cancelled' && (was.kind !== 'ending' || open === null) ? 'cancelled' : null;
	}
}

/** What an order paid is try 0, but for the first of all. */
function isMoved(before: Course, { state, paid }: Course): boolean {
	const { period } = state;
	return paid.get(period)?.attempt === 0 && !before.paid.has(period);
}

function turnOf({ phases: before }: Course, { phases, state }: Course): Message | null {
	// Another tax is no other price.
	const bare = (all: Course['phases']) => all.map(({ taxes: _, ...phase }) => phase);
	if (isSame(bare(before), bare(phases))) return null;
	if (phaseOf(before, state.period).planId !== phaseOf(phases, state.period).planId) return 'lowered';
	const later = phases.find(({ from }) => from > state.period);
	if (later?.isRepriced) return 'price-changes';
	return later ? 'moves-later' : 'stays';
}

function isAsking(kind: Course['state']['kind']): boolean {
	return kind === 'renewing' || kind === 'owing';
}
