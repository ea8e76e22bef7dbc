import type { PolicySource } from '$core/access/model';
import { compile } from '$core/access/policy';
import { changeSettings, siteSettings } from '../../db/queries/settings';
import type { SiteSettings } from '../../db/schema/running';
import { ChangedMeanwhile, expectRevision, revisionOf } from '../../revision';
import { consentOf, saveRehearsed, type KeptRehearsal, type Rehearsing } from '../access/rehearsed-save';
import { turnAwayProblem, type TurnAwayProblem } from '../fences/turn-away-problem';
import { need, type Staff } from '../../people/need';

const SITE = { kind: 'site', id: '00000000-0000-7000-8000-000000000002' };

/** What this form saves: the protection of films has a form of its own. */
export type SitePart = Omit<SiteSettings, 'deterrents'>;

export function siteRevision(site: SitePart): string {
	return revisionOf(partOf(site));
}

function partOf({
	siteName,
	statementName,
	senderEmail,
	zone,
	language,
	currency,
	turnAway,
	limits,
	releaseHour,
	lapseAfterDays
}: SitePart): SitePart {
	return {
		siteName,
		statementName,
		senderEmail,
		zone,
		language,
		currency,
		turnAway,
		limits,
		releaseHour,
		lapseAfterDays
	};
}

/** @param revision of what the editor began with; `null`: whatever is there is meant */
export async function saveSite(
	app: Rehearsing,
	actor: Staff,
	wish: SitePart,
	agreedTo: string | null = null,
	revision: string | null = null
): Promise<
	| { kind: 'saved' }
	| { kind: 'rehearsed'; rehearsal: KeptRehearsal }
	| { kind: 'changed'; theirs: SitePart }
	| { kind: 'refused'; code: TurnAwayProblem }
> {
	need(actor, 'settings');
	const value = partOf(wish);
	const { turnAway, limits, zone, releaseHour, lapseAfterDays } = value;
	const change = (source: PolicySource) => ({
		...source,
		turnAway,
		limits,
		zone,
		releaseHour,
		lapseAfterDays
	});
	const problem = turnAwayProblem(compile(change((await app.rights.policy()).source)), turnAway);
	if (problem) return { kind: 'refused', code: problem };
	const consent = await consentOf(app, agreedTo);
	try {
		const saved = await saveRehearsed(app, actor, consent, change, async (work) => {
			const before = await changeSettings(work.tx, (now) => {
				expectRevision(revision, partOf(now));
				return value;
			});
			await work.note({ action: 'saved-site', subject: SITE, before: partOf(before), after: value });
			work.policyChanged('site settings', { site: true });
		});
		return saved.kind === 'rehearsed' ? saved : { kind: 'saved' };
	} catch (error) {
		if (!(error instanceof ChangedMeanwhile)) throw error;
		return { kind: 'changed', theirs: partOf(await siteSettings(app.db)) };
	}
}
