import type { Decision } from '$core/access/decision';
import type { App as Stile, Practice, Runs } from '$server/app';
import type { Permissions } from '$core/staff/permissions';
import type { Look } from '$server/rights/look';
import type { FrontKey } from '$words/en/front';
import type { LanguageCode } from '$words/languages';

declare global {
	namespace App {
		interface Locals {
			app: Stile;
			runner: Runs;
			/** For whoever begins to practise, or ends it. */
			practice: Practice;
			/** The site's own, also where somebody practises. */
			site: Stile;
			/** Who is signed in. */
			viewer: {
				id: string;
				name: string;
				email: string;
				permissions: Permissions;
				owes: { agreementId: string; plan: string } | null;
			} | null;
			/** In which the front speaks to whoever looks. */
			language: LanguageCode;
			/** Who looks, as of when: the one who is signed in, now, but for the Desk's other side. */
			look: Look;
			/** The path as members know it: normal, and without the other side's prefix. */
			path: string;
			/** Taken before any load runs; `null` at addresses that cannot be fenced. */
			access: { itemId: string | null; decision: Decision } | null;
			/** Set where something could not be written for want of room. */
			isDiskFull: boolean;
		}
		interface Error {
			message: string;
			/** By which pages say it in the site's language. */
			key?: FrontKey;
		}
	}
}

export {};
