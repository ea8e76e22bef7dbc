import { fail } from '@sveltejs/kit';
import { doneWords, foretoldWords, MANY_PROBLEMS, type ManyWhat } from '$server/http/many-sales-words';
import {
	MOST_SALES,
	type LeftAgreement,
	type LeftPayment,
	type ManySales
} from '$server/usecases/sales/run-many-sales';

type App = App.Locals['app'];
type IdsOfList = (app: App, url: URL, most: number) => Promise<string[]>;

/** Ids that a form speaks of: those that were chosen, or all of the list that it names. */
export async function chosenIn(app: App, form: FormData, idsOf: IdsOfList): Promise<string[]> {
	const ask = form.get('ask');
	if (typeof ask === 'string') return idsOf(app, new URL(`?${ask}`, app.settings.origin), MOST_SALES);
	return String(form.get('ids') ?? '')
		.split(',')
		.filter((id) => /^[0-9a-f-]{36}$/.test(id));
}

/** What somebody said yes to. */
export function digestIn(form: FormData): string | null {
	const said = String(form.get('agreedTo') ?? '');
	return /^[0-9a-f]{64}$/.test(said) ? said : null;
}

/** How the foot of the list hears of it. */
export function answered(
	of: { did: ManyWhat; action: string; isOf: 'payment' | 'subscription'; endsAccess?: boolean },
	done: ManySales<LeftPayment | LeftAgreement>
) {
	const { did, action, isOf, endsAccess } = of;
	if (done.kind === 'refused') return refusal(of, MANY_PROBLEMS[done.code]);
	if (done.kind === 'done') return { bulk: { did, action, saved: doneWords(isOf, done) } };
	const foretold = { digest: done.digest, says: foretoldWords(did, done, endsAccess) };
	return fail(409, { bulk: { did, action, foretold } });
}

export function refusal({ did, action }: { did: string; action: string }, problem: string) {
	return fail(409, { bulk: { did, action, problem } });
}
