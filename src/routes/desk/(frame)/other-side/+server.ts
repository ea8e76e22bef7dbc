import { json } from '@sveltejs/kit';
import { timeline } from '$core/access/timeline';
import { asOf } from '$server/reads/desk/as-of';
import { record, wholeNumber } from '$server/http/read-window';
import { lookAs, otherSidePrefix, type OtherViewer } from '$server/usecases/access/look-as';
import type { RequestHandler } from './$types';

const MOST_DAYS = 3660;

/** An address of the other side, for the staff member who asks and nobody else. Every look is written down. */
export const POST: RequestHandler = async ({ locals: { app, viewer }, request }) => {
	const ask = record(await request.json());
	const as = readViewer(record(ask.as));
	if (!as || !viewer) return json({ message: 'Choose as whom to look.' }, { status: 400 });
	if (as.kind === 'member' && !viewer.permissions.has('members'))
		return json({ message: 'Your role does not include looking as a member.' }, { status: 403 });
	const asked = new URL(String(ask.moment ?? '?'), app.settings.origin);
	const { moment } = await asOf(app, asked);
	const at = asked.searchParams.has('asof') ? moment.at : null;
	const { rules } = moment;
	const { token, look } = await lookAs(app, viewer, { as, at, rules });
	const path = typeof ask.path === 'string' ? ask.path : '/';
	const item = look?.policy.byAddress.get(path);
	const changes =
		look && item ? timeline(look.policy, look.viewer, item.id, moment.from, moment.to, moment.assume) : [];
	return json({ prefix: otherSidePrefix(token), moment, marks: changes.map(({ start }) => start) });
};

function readViewer(raw: Record<string, unknown>): OtherViewer | null {
	const id = typeof raw.id === 'string' ? raw.id : '';
	switch (raw.kind) {
		case 'stranger':
			return { kind: 'stranger' };
		case 'member':
			return id ? { kind: 'member', id } : null;
		case 'holder': {
			const days = wholeNumber(raw.days) ?? 0;
			return id && days >= 0 && days <= MOST_DAYS ? { kind: 'holder', planId: id, days } : null;
		}
		case 'lapsed':
			return id ? { kind: 'lapsed', planId: id } : null;
		default:
			return null;
	}
}
