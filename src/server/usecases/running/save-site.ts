/** The settings of the site, each part by a form of its own: whoever saves one leaves the others as they are by then. */
import type { PolicySource } from '$core/access/model';
import { compile } from '$core/access/policy';
import { changeSettings, siteSettings } from '../../db/queries/settings';
import type { SiteSettings } from '../../db/schema/running';
import { ChangedMeanwhile, expectRevision, revisionOf } from '../../revision';
import { consentOf, saveRehearsed, type KeptRehearsal, type Rehearsing } from '../access/rehearsed-save';
import { turnAwayProblem, type TurnAwayProblem } from '../fences/turn-away-problem';
import { need, type Staff } from '../../people/need';

/** What the audit calls it. */
export const SITE = { kind: 'site', id: '00000000-0000-7000-8000-000000000002' };

/** What each form saves. The protection of films is saved with the ways of watching. */
const PARTS = {
	site: ['siteName', 'zone', 'language', 'legal'],
	access: ['turnAway', 'limits', 'releaseHour', 'lapseAfterDays'],
	looks: ['looks'],
	mail: ['senderEmail'],
	tax: ['tax'],
	money: [
		'currency',
		'statementName',
		'seller',
		'collecting',
		'mayPause',
		'remindsAfterHours',
		'payBy',
		'offline'
	]
} as const satisfies Record<string, readonly (keyof SiteSettings)[]>;
export type SitePart = keyof typeof PARTS;
export type PartOfSite<P extends SitePart> = Pick<SiteSettings, (typeof PARTS)[P][number]>;

export function sitePart<P extends SitePart>(part: P, site: PartOfSite<P>): PartOfSite<P> {
	const keys: readonly (keyof PartOfSite<P>)[] = PARTS[part];
	return Object.fromEntries(keys.map((key) => [key, site[key]])) as PartOfSite<P>;
}

export function siteRevision<P extends SitePart>(part: P, site: PartOfSite<P>): string {
	return revisionOf(sitePart(part, site));
}

export type SavedSite<P extends SitePart> =
	| { kind: 'saved' }
	| { kind: 'rehearsed'; rehearsal: KeptRehearsal }
	| { kind: 'changed'; theirs: PartOfSite<P> }
	| { kind: 'refused'; code: TurnAwayProblem };

/** @param revision of what the editor began with; `null`: whatever is there is meant */
export async function saveSite<P extends SitePart>(
	app: Rehearsing,
	actor: Staff,
	part: P,
	wish: PartOfSite<P>,
	{ agreedTo = null, revision = null }: { agreedTo?: string | null; revision?: string | null } = {}
): Promise<SavedSite<P>> {
	need(actor, 'settings');
	const value = sitePart(part, wish);
	const change = (source: PolicySource) => ({ ...source, ...ofPolicy(value) });
	const { turnAway } = ofPolicy(value);
	const problem = turnAway && turnAwayProblem(compile(change((await app.rights.policy()).source)), turnAway);
	if (problem) return { kind: 'refused', code: problem };
	const consent = await consentOf(app, agreedTo);
	try {
		const saved = await saveRehearsed(app, actor, consent, change, async (work) => {
			const before = await changeSettings(work.tx, (now) => {
				expectRevision(revision, sitePart(part, now));
				return value;
			});
			await work.note({ action: 'saved-site', subject: SITE, before: sitePart(part, before), after: value });
			work.policyChanged('site settings', { site: true });
		});
		return saved.kind === 'rehearsed' ? saved : { kind: 'saved' };
	} catch (error) {
		if (!(error instanceof ChangedMeanwhile)) throw error;
		return { kind: 'changed', theirs: sitePart(part, await siteSettings(app.db)) };
	}
}

/** What of the settings decides who may open what. */
const OF_POLICY = ['turnAway', 'limits', 'zone', 'releaseHour', 'lapseAfterDays'] as const;

function ofPolicy(value: Partial<SiteSettings>): Partial<Pick<PolicySource, (typeof OF_POLICY)[number]>> {
	return Object.fromEntries(
		OF_POLICY.filter((key) => value[key] !== undefined).map((key) => [key, value[key]])
	);
}
