import { ArrayNotEmpty, IsIn, IsNotEmpty, IsUUID, MaxLength } from 'class-validator';
import type { Audience, TurnAway } from '$core/access/model';
import { normalisePath } from '$core/access/address';
import { fieldError, parse, type FieldErrors, type Values } from '$server/http/parse';
import type { FenceWish, SavedFence } from '$server/usecases/fences/save-fence';

class FenceForm {
	@MaxLength(120, { message: 'A name has at most 120 characters.' })
	@IsNotEmpty({ message: 'Give the fence a name that says what it closes.' })
	name = '';

	@ArrayNotEmpty({ message: 'Choose at least one item: a fence around nothing closes nothing.' })
	items: string[] = [];

	@IsIn(['replaces', 'adds'], { message: 'Choose what the fence does.' })
	mode = 'replaces' as 'replaces' | 'adds';

	@IsUUID('all', { each: true, message: 'Choose plans from the list.' })
	plans: string[] = [];

	@IsIn(['', 'yes'], { message: 'Choose who may cross.' })
	signedIn = '';

	@IsIn(['', 'yes'], { message: 'Choose who may cross.' })
	anyone = '';

	@IsIn(['site', 'notice', 'sent', 'absent'], { message: 'Choose what everybody else gets.' })
	turnAway = 'site' as 'site' | 'notice' | 'sent' | 'absent';

	@MaxLength(2000, { message: 'A notice has at most 2000 characters.' })
	notice = '';

	@MaxLength(300, { message: 'An address has at most 300 characters.' })
	sentTo = '';

	@IsIn(['', 'yes'], { message: 'Choose whether it is on.' })
	isOn = '';
}

export type ParsedFence = { ok: true; wish: FenceWish } | { ok: false; errors: FieldErrors; values: Values };

export async function parseFence(form: FormData): Promise<ParsedFence> {
	const parsed = await parse(FenceForm, form);
	if (!parsed.ok) return parsed;
	const typed = parsed.data;
	const audiences: Audience[] = [];
	if (typed.plans.length > 0) audiences.push({ kind: 'holders', planIds: typed.plans });
	if (typed.signedIn === 'yes') audiences.push({ kind: 'signed-in' });
	if (typed.anyone === 'yes') audiences.push({ kind: 'anyone' });
	if (typed.turnAway === 'notice' && typed.notice === '') {
		return {
			ok: false,
			...fieldError(form, 'notice', 'Write the notice, or choose another way to turn people away.')
		};
	}
	const target = normalisePath(typed.sentTo);
	if (typed.turnAway === 'sent' && !target.ok) {
		return {
			ok: false,
			...fieldError(form, 'sentTo', 'Write a path of this site that begins with a slash, such as /sign-in.')
		};
	}
	const { name, mode, items } = typed;
	const turnAway = turnAwayOf(typed, target.ok ? target.path : '/sign-in');
	return { ok: true, wish: { name, mode, itemIds: items, isOn: typed.isOn === 'yes', audiences, turnAway } };
}

function turnAwayOf(typed: FenceForm, path: string): TurnAway | null {
	switch (typed.turnAway) {
		case 'site':
			return null;
		case 'notice':
			return { kind: 'notice', text: typed.notice };
		case 'sent':
			return { kind: 'sent', to: path };
		case 'absent':
			return { kind: 'absent' };
	}
}

type Problem = Extract<SavedFence, { ok: false }>['code'];

/** The field that a refusal belongs to, and its sentence. */
export const FENCE_PROBLEMS: Record<Problem, [field: string, message: string]> = {
	unknown: ['name', 'This fence does not exist any more.'],
	'unknown-item': ['items', 'One of the items does not exist any more. Choose again.'],
	'unknown-plan': ['plans', 'One of the plans does not exist any more. Choose again.']
};
