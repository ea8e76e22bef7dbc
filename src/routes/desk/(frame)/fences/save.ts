/** The save of the fence editor, for a new fence and for one that is there. */
import { fail } from '@sveltejs/kit';
import { readFence, TURN_AWAY_PROBLEMS } from '$server/http/read-fence';
import { rehearsalView } from '$server/reads/desk/rehearsal-view';
import { deskNames } from '$server/reads/desk/names';
import { consentOf } from '$server/usecases/access/rehearsed-save';
import { saveFence, type FenceProblem } from '$server/usecases/fences/save-fence';
import { agreedTo, readForm } from '$server/http/parse';
import { closesWords, crossesWords } from '$ui/wording/fence';
import { namesOf } from '$ui/names';

const PROBLEMS: Record<FenceProblem, [field: string, message: string]> = {
	unknown: ['name', 'This fence does not exist any more.'],
	'unknown-item': ['selector', 'One of the items does not exist any more. Choose again.'],
	'unknown-collection': ['selector', 'This collection does not exist any more. Choose again.'],
	'unknown-member': [
		'crossings',
		'One of the members does not exist any more. Take them out, then save again.'
	],
	'unknown-plan': ['crossings', 'One of the plans does not exist any more. Choose again.'],
	'follows-itself': [
		'crossings',
		'This would follow itself in a circle, which opens nothing. Choose something else that they may open.'
	],
	'sent-to-closed': ['turnAway', TURN_AWAY_PROBLEMS['sent-to-closed']],
	'sent-in-a-circle': ['turnAway', TURN_AWAY_PROBLEMS['sent-in-a-circle']]
};

export async function saveFromEditor(locals: App.Locals, request: Request, fenceId: string | null) {
	const form = await readForm(request);
	const { app, viewer } = locals;
	const { zone } = await app.site();
	const yes = agreedTo(form);
	// Whoever is named now is named as of the rehearsal: the same change is agreed to and saved.
	const { mint } = await consentOf(app, yes);
	const read = readFence(parsed(form.get('fence')), zone, mint.at);
	if (!read.ok) return { ok: false as const, failure: fail(400, { errors: read.errors }) };
	const revision = Number(form.get('overwrite') ?? form.get('revision') ?? 1);
	const saved = await saveFence(app, viewer, {
		fenceId,
		revision,
		wish: read.wish,
		agreedTo: yes,
		signal: request.signal
	});
	switch (saved.kind) {
		case 'saved':
			return { ok: true as const, fenceId: saved.fenceId, notes: read.notes };
		case 'rehearsed':
			return {
				ok: false as const,
				failure: fail(409, { rehearsal: await rehearsalView(app, saved.rehearsal) })
			};
		case 'changed': {
			const names = namesOf(await deskNames(app), zone);
			const { theirs } = saved;
			const named = new Map(
				theirs.crossings.map(({ id }) => [id, theirs.named.filter((one) => one.crossingId === id).length])
			);
			const words = `${closesWords(theirs, names)}; ${crossesWords(theirs.crossings, names, named)}.`;
			const { name, isOn, revision: newer } = theirs;
			return { ok: false as const, failure: fail(409, { theirs: { name, isOn, words, revision: newer } }) };
		}
		case 'refused': {
			const [field, message] = PROBLEMS[saved.code];
			return { ok: false as const, failure: fail(409, { errors: { [field]: [message] } }) };
		}
	}
}

function parsed(value: FormDataEntryValue | null): unknown {
	try {
		return JSON.parse(String(value ?? ''));
	} catch {
		return null;
	}
}
