import type { Decision } from '$core/access/model';
import type { App as Stile } from '$server/app';
import type { Running } from '$server/instance';

declare global {
	namespace App {
		interface Locals {
			app: Stile;
			runner: Running['runner'];
			/** Who is signed in. */
			viewer: { id: string; name: string; email: string; isStaff: boolean } | null;
			/** Where the address is an item's: taken before any load runs. */
			access: { itemId: string; decision: Decision } | null;
		}
		interface Error {
			message: string;
		}
	}
}

export {};
