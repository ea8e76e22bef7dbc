import { WHOEVER_LOOKS } from '$core/staff/permissions';
import type { Using } from '../../app';
import { LOOKED } from '../../db/schema/running';
import { need, type Staff } from '../../people/need';
import { otherSideLook, otherSideToken, type Look, type OtherSideAsk } from '../../rights/look';
import { transact, type Transacting } from '../../transact';

export { otherSidePrefix, type OtherViewer } from '../../rights/look';

/** A token of the other side, for whoever asks and nobody else, and what it looks at. Every look is written down. */
export async function lookAs(
	app: Transacting & Using<'keys'>,
	actor: NonNullable<Staff>,
	{ as, at, rules }: Omit<OtherSideAsk, 'by'>
): Promise<{ token: string; look: Look | null }> {
	need(actor, ...(as.kind === 'member' ? (['members'] as const) : WHOEVER_LOOKS));
	await transact(app, actor, (work) =>
		work.note({
			action: LOOKED,
			subject: { kind: 'account', id: as.kind === 'member' ? as.id : actor.id },
			...(as.kind === 'member' ? { memberId: as.id } : {}),
			after: { as, at, rules }
		})
	);
	const token = otherSideToken(app, { as, at, rules, by: actor.id });
	return { token, look: await otherSideLook(app, token, actor.id) };
}
