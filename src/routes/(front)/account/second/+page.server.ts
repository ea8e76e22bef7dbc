import { fail, redirect } from '@sveltejs/kit';
import { ownPath } from '$server/http/cookies';
import { ownDevice } from '$server/http/own-device';
import { fieldError, parse, readForm } from '$server/http/parse';
import {
	offerFactor,
	ownFactor,
	renewRecoveryCodes,
	turnFactorOff,
	turnFactorOn
} from '$server/usecases/accounts/second-factor';
import { askForLink } from '$server/usecases/accounts/sign-in-link';
import type { Actions, PageServerLoad, RequestEvent } from './$types';
import { SpendForm, TurnOnForm } from './form';

const HERE = '/account/second';

const NOT_ON = {
	'wrong-code': { field: 'code', text: 'second.wrong-code' },
	'offer-over': { field: 'code', text: 'second.offer-over' },
	'is-on': { field: 'code', text: 'second.is-on-already' },
	unproved: { field: 'code', text: 'second.offer-over' },
	wrong: { field: 'current', text: 'details.wrong' },
	'too-many': { field: 'current', text: 'sign-in.too-many' },
	busy: { field: 'current', text: 'sign-in.busy' }
} as const;

const NOT_SPENT = {
	'wrong-code': 'second.wrong-spend',
	'too-many': 'second.too-many',
	'is-off': 'second.is-off-already'
} as const;

export const load: PageServerLoad = async (event) => {
	const { app, viewer, look } = event.locals;
	const own = ownDevice(event, HERE);
	const factor = await ownFactor(app, own);
	if (!factor) redirect(303, `/sign-in?next=${HERE}`);
	// Nobody sets it up for somebody else.
	const isOffered = factor.since === null && !factor.isUnproved && look.otherSide === null;
	const standing = await app.rights.standing(own.accountId);
	return {
		...{ factor, email: viewer?.email ?? '', zone: (await app.site()).zone },
		offer: isOffered ? await offerFactor(app, own) : null,
		isStaffAsked: standing?.lacksFactor ?? false,
		next: ownPath(event.url.searchParams.get('next'), '')
	};
};

export const actions: Actions = {
	on: async (event) => {
		const { app } = event.locals;
		const own = ownDevice(event, HERE);
		const form = await readForm(event.request);
		const parsed = await parse(TurnOnForm, form);
		const ask = parsed.ok ? parsed.data : null;
		const refusal = parsed.ok ? null : parsed;
		const done = ask && (await turnFactorOn(app, own, ask));
		if (done?.kind === 'on') return { saved: 'second.on', codes: done.codes };
		// The picture that the app has read stays.
		const offer = await offerFactor(app, own, String(form.get('offer') ?? ''));
		if (!done) return fail(400, { ...refusal, offer });
		const { field, text } = NOT_ON[done.code];
		const isBusy = done.code === 'too-many' || done.code === 'busy';
		return fail(isBusy ? 429 : 400, { ...fieldError(form, field, text), offer });
	},
	link: async (event) => {
		const { app, viewer } = event.locals;
		ownDevice(event, HERE);
		const email = viewer?.email ?? '';
		const asked = await askForLink(app, { email, next: HERE, client: event.getClientAddress() });
		if (asked.ok) return { saved: 'second.link-sent' };
		return fail(429, fieldError(await readForm(event.request), 'code', 'sign-in.too-many-links'));
	},
	codes: async (event) => {
		const spent = await spend(event, renewRecoveryCodes);
		return 'codes' in spent ? { saved: 'second.renewed', codes: spent.codes } : spent;
	},
	off: async (event) => {
		const spent = await spend(event, turnFactorOff);
		return 'kind' in spent ? { saved: 'second.off' } : spent;
	}
};

async function spend(event: RequestEvent, how: typeof renewRecoveryCodes | typeof turnFactorOff) {
	const own = ownDevice(event, HERE);
	const form = await readForm(event.request);
	const parsed = await parse(SpendForm, form);
	if (!parsed.ok) return fail(400, parsed);
	const done = await how(event.locals.app, own, { ...parsed.data, client: event.getClientAddress() });
	if (done.kind !== 'refused') return done;
	return fail(done.code === 'too-many' ? 429 : 400, fieldError(form, 'code', NOT_SPENT[done.code]));
}
