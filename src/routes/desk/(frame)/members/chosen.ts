import { idsOf } from '$server/reads/desk/members';
import { memberAsk } from './ask';

type App = App.Locals['app'];

/** Ids of the members that a form speaks of: those that were chosen, or all of the list that it names. */
export async function membersIn(app: App, form: FormData): Promise<string[]> {
	const ask = form.get('ask');
	if (typeof ask === 'string') {
		const url = new URL(`?${ask}`, app.settings.origin);
		return idsOf(app, memberAsk(url, (await app.site()).zone));
	}
	return String(form.get('ids') ?? '')
		.split(',')
		.filter((id) => /^[0-9a-f-]{36}$/.test(id));
}
