import { isEmail, IsIn, IsNotEmpty, IsUUID, MaxLength } from 'class-validator';
import { normaliseCode } from '$core/access/batches';
import { readLocal } from '$core/time/calendar';
import { normaliseEmail } from '$server/usecases/accounts/sign-in';
import { fieldError, parse, type FieldErrors, type Values } from '$server/http/parse';
import type { ChargingWish, Keepers } from '$server/usecases/plans/begin-charging';
import { chosenIn } from '../form';

/** More than that come by a table of members. */
const MOST_ADDRESSES = 2000;

export const KEEPERS = ['nobody', 'everybody', 'opened', 'joined-before', 'addresses', 'code'] as const;

class ChargingForm {
	@MaxLength(200_000, { message: 'That is too much at once.' })
	chosen = '';

	@IsUUID(undefined, { message: 'Choose the plan that opens it from now on.' })
	plan = '';

	@IsIn(KEEPERS, { message: 'Choose who keeps it.' })
	keepers = '' as (typeof KEEPERS)[number];

	@MaxLength(20, { message: 'Choose a day and a time.' })
	before = '';

	@MaxLength(200_000, { message: 'That is too much at once: bring them in by a table of members first.' })
	addresses = '';

	@MaxLength(40, { message: 'At most 40 letters and digits.' })
	code = '';

	@MaxLength(120, { message: 'A name has at most 120 characters.' })
	@IsNotEmpty({
		message: 'Give it a name: you find it by it, and those who keep it read it in their account.'
	})
	keptName = '';

	@MaxLength(20, { message: 'Choose a day and a time.' })
	until = '';
}

type Parsed = { ok: true; wish: ChargingWish } | { ok: false; errors: FieldErrors; values: Values };

export async function parseCharging(form: FormData, zone: string): Promise<Parsed> {
	const parsed = await parse(ChargingForm, form);
	if (!parsed.ok) return parsed;
	const { chosen, plan: planId, keptName, until: typed } = parsed.data;
	const no = (field: string, message: string): Parsed => ({ ok: false, ...fieldError(form, field, message) });
	const itemIds = chosenIn(chosen);
	if (itemIds.length === 0) return no('chosen', 'Choose what you begin to charge for.');
	const keepers = keepersIn(parsed.data, zone);
	if ('field' in keepers) return no(keepers.field, keepers.message);
	const until = typed === '' ? null : readLocal(typed, zone);
	if (until && !until.ok) return no('until', 'Choose the day and the time, or leave it empty.');
	return {
		ok: true,
		wish: { itemIds, planId, keepers, keptName: keptName.trim(), until: until?.at ?? null }
	};
}

function keepersIn(
	{ keepers: kind, before, addresses, code }: ChargingForm,
	zone: string
): Keepers | { field: string; message: string } {
	switch (kind) {
		case 'joined-before': {
			const read = readLocal(before, zone);
			return read.ok ? { kind, at: read.at } : { field: 'before', message: 'Choose the day and the time.' };
		}
		case 'addresses': {
			const emails = [
				...new Set(
					addresses
						.split(/[\s,;<>]+/)
						.map(normaliseEmail)
						.filter((one) => one !== '')
				)
			];
			const wrong = emails.filter((one) => !isEmail(one));
			if (emails.length === 0) return { field: 'addresses', message: 'Type an address for each of them.' };
			if (wrong.length > 0)
				return {
					field: 'addresses',
					message: `${wrong.length === 1 ? 'This is no address' : 'These are no addresses'}: ${wrong.slice(0, 5).join(', ')}${wrong.length > 5 ? ', …' : ''}`
				};
			return emails.length <= MOST_ADDRESSES
				? { kind, emails }
				: {
						field: 'addresses',
						message: `At most ${MOST_ADDRESSES} at once: bring them in by a table of members first.`
					};
		}
		case 'code': {
			const normal = normaliseCode(code);
			return normal.length >= 4
				? { kind, code: normal }
				: { field: 'code', message: 'Type the code: at least four letters or digits.' };
		}
		case 'nobody':
		case 'everybody':
		case 'opened':
			return { kind };
	}
}
