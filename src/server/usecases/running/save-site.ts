import type { PolicySource } from '$core/access/model';
import { compile } from '$core/access/policy';
import type { Actor, App } from '../../app';
import { policySource } from '../../db/queries/policy';
import { settings, type SiteSettings } from '../../db/schema/running';
import { saveRehearsed, type KeptRehearsal } from '../access/rehearsed-save';
import { turnAwayProblem, type TurnAwayProblem } from '../fences/turn-away-problem';

const SITE = { kind: 'site', id: '00000000-0000-7000-8000-000000000002' };

export async function saveSite(
	app: App,
	actor: Actor,
	value: SiteSettings,
	agreedTo: number | null = null
): Promise<
	| { kind: 'saved' }
	| { kind: 'rehearsed'; rehearsal: KeptRehearsal }
	| { kind: 'refused'; code: TurnAwayProblem }
> {
	const before = await app.site();
	const { turnAway, limits, zone, releaseHour, lapseAfterDays } = value;
	const change = (source: PolicySource) => ({
		...source,
		turnAway,
		limits,
		zone,
		releaseHour,
		lapseAfterDays
	});
	const problem = turnAwayProblem(compile(change(await policySource(app.db))), turnAway);
	if (problem) return { kind: 'refused', code: problem };
	const saved = await saveRehearsed(app, actor, agreedTo, change, async (work) => {
		await work.tx.update(settings).set({ value });
		await work.note({ action: 'saved-site', subject: SITE, before, after: value });
		work.policyChanged('site settings');
	});
	return saved.kind === 'rehearsed' ? saved : { kind: 'saved' };
}
