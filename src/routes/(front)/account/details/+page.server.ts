import { fail, redirect } from '@sveltejs/kit';
import { countriesByName } from '$core/text/countries';
import { ownDevice } from '$server/http/own-device';
import { fieldError, parse, readForm } from '$server/http/parse';
import { askNewAddress } from '$server/usecases/accounts/change-address';
import {
	changeLanguage,
	changeName,
	changePassword,
	ownAccount,
	signOutElsewhere
} from '$server/usecases/accounts/own-account';
import { ownFactor } from '$server/usecases/accounts/second-factor';
import { wishReminders } from '$server/usecases/sales/remind';
import { changeTaxBuyer, ownTaxBuyer } from '$server/usecases/sales/change-tax';
import { frontWords } from '$words/front';
import { LANGUAGE_CODES, languageOf } from '$words/languages';
import { askForLink } from '$server/usecases/accounts/sign-in-link';
import type { Actions, PageServerLoad } from './$types';
import { AddressForm, LanguageForm, NameForm, PasswordForm, TaxForm } from './form';

const HERE = '/account/details';

const PROBLEMS = {
	wrong: {
		field: 'current',
		text: 'details.wrong'
	},
	'too-many': {
		field: 'current',
		text: 'sign-in.too-many'
	},
	busy: { field: 'password', text: 'sign-in.busy' },
	changed: {
		field: 'password',
		text: 'details.changed'
	}
};

const ADDRESS_PROBLEMS = {
	same: { field: 'email', text: 'details.address-same', status: 400 },
	gone: { field: 'email', text: 'details.address-same', status: 400 },
	wrong: { field: 'currentForAddress', text: 'details.wrong', status: 400 },
	'too-many': { field: 'currentForAddress', text: 'sign-in.too-many', status: 429 },
	'too-many-links': { field: 'email', text: 'sign-in.too-many-links', status: 429 },
	busy: { field: 'currentForAddress', text: 'sign-in.busy', status: 429 }
} as const;

export const load: PageServerLoad = async (event) => {
	const { app } = event.locals;
	const own = ownDevice(event, HERE);
	const account = await ownAccount(app, own);
	if (!account) redirect(303, `/sign-in?next=${HERE}`);
	const site = await app.site();
	const factor = await ownFactor(app, own);
	const tax = site.tax.way === 'none' ? null : await ownTaxBuyer(app, own.accountId);
	return {
		// On the other side, the address is masked.
		account: { ...account, email: event.locals.viewer?.email ?? account.email },
		siteLanguage: languageOf(site.language).name,
		languages: LANGUAGE_CODES.map((code) => ({ code, name: languageOf(code).name })),
		hasReminders: site.remindsAfterHours !== null,
		codeSince: factor?.since ?? null,
		tax,
		countries: tax ? countriesByName(frontWords(event.locals.language).locale) : []
	};
};

export const actions: Actions = {
	name: async (event) => {
		const own = ownDevice(event, HERE);
		const parsed = await parse(NameForm, await readForm(event.request));
		if (!parsed.ok) return fail(400, { part: 'name', ...parsed });
		await changeName(event.locals.app, own, parsed.data.name);
		return { part: 'name', saved: 'details.name-saved' };
	},
	language: async (event) => {
		const own = ownDevice(event, HERE);
		const parsed = await parse(LanguageForm, await readForm(event.request));
		if (!parsed.ok) return fail(400, { part: 'language', ...parsed });
		const language = parsed.data.language || null;
		await changeLanguage(event.locals.app, own, language);
		// What is shown at once speaks it, too.
		event.locals.language = language ?? (await event.locals.app.site()).language;
		return { part: 'language', saved: 'details.language-saved' };
	},
	address: async (event) => {
		const own = ownDevice(event, HERE);
		const form = await readForm(event.request);
		const parsed = await parse(AddressForm, form);
		if (!parsed.ok) return fail(400, { part: 'address', ...parsed });
		const { email, currentForAddress: current } = parsed.data;
		const asked = await askNewAddress(event.locals.app, own, {
			...{ email, current, client: event.getClientAddress() }
		});
		if (asked.ok) return { part: 'address', askedAddress: email };
		const { field, text, status } = ADDRESS_PROBLEMS[asked.code];
		return fail(status, { part: 'address', ...fieldError(form, field, text) });
	},
	mails: async (event) => {
		const own = ownDevice(event, HERE);
		const wants = (await readForm(event.request)).get('wantsReminders') === 'yes';
		await wishReminders(event.locals.app, own.accountId, wants);
		return { part: 'mails', saved: 'mails.saved' };
	},
	tax: async (event) => {
		const own = ownDevice(event, HERE);
		const form = await readForm(event.request);
		const parsed = await parse(TaxForm, form);
		if (!parsed.ok) return fail(400, { part: 'tax', ...parsed });
		const wish = { ...parsed.data, client: event.getClientAddress() };
		const changed = await changeTaxBuyer(event.locals.app, own.accountId, wish);
		if (!changed.ok) {
			const field = changed.code === 'unknown-country' ? 'country' : 'taxId';
			return fail(400, { part: 'tax', ...fieldError(form, field, `checkout.${changed.code}`) });
		}
		return { part: 'tax', saved: 'details.tax-saved' };
	},
	password: async (event) => {
		const own = ownDevice(event, HERE);
		const form = await readForm(event.request);
		const parsed = await parse(PasswordForm, form);
		if (!parsed.ok) return fail(400, { part: 'password', ...parsed });
		const { current, password } = parsed.data;
		const changed = await changePassword(event.locals.app, own, { current, wanted: password });
		if (changed.kind === 'refused') {
			const { field, text } = PROBLEMS[changed.code];
			const isBusy = changed.code === 'too-many' || changed.code === 'busy';
			return fail(isBusy ? 429 : 400, { part: 'password', ...fieldError(form, field, text) });
		}
		return { part: 'password', saved: 'details.password-saved' };
	},
	link: async (event) => {
		const { app, viewer } = event.locals;
		ownDevice(event, HERE);
		const form = await readForm(event.request);
		const email = viewer?.email ?? '';
		const asked = await askForLink(app, { email, next: HERE, client: event.getClientAddress() });
		if (!asked.ok) {
			return fail(429, { part: 'password', ...fieldError(form, 'current', 'sign-in.too-many-links') });
		}
		return { part: 'password', saved: 'details.link-sent' };
	},
	elsewhere: async (event) => {
		await signOutElsewhere(event.locals.app, ownDevice(event, HERE));
		return { part: 'devices', saved: 'details.signed-out' };
	}
};
