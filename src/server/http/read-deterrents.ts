/** Deterrents as forms send them, read once. */
import { readOverlay, readSite, type Deterrents, type OwnDeterrents } from '$core/media/deterrents';
import { readNetwork } from '$core/media/network';
import type { FieldErrors } from './parse';

type Read<T> = { ok: true; value: T } | { ok: false; errors: FieldErrors };

/** The site's: `embedSites`, `blockedCountries`, `blockedNetworks` as lists, one a line; `overlay*`; `tiesLinks`. */
export function readDeterrents(form: FormData): Read<Deterrents> {
	const errors: FieldErrors = {};
	const value: Deterrents = {
		embedSites: sites(form, errors),
		blockedCountries: countries(form, errors),
		blockedNetworks: networks(form, errors),
		overlay: form.get('hasOverlay') === 'yes' ? overlayOf(form) : null,
		tiesLinks: form.get('tiesLinks') === 'yes'
	};
	return Object.keys(errors).length > 0 ? { ok: false, errors } : { ok: true, value };
}

/** An item's: each part counts where `own<Part>` is ticked. `null`: nothing of its own. */
export function readOwnDeterrents(form: FormData): Read<OwnDeterrents | null> {
	const errors: FieldErrors = {};
	const value: OwnDeterrents = {};
	if (form.get('ownSites') === 'yes') value.embedSites = sites(form, errors);
	if (form.get('ownPlaces') === 'yes') {
		value.blockedCountries = countries(form, errors);
		value.blockedNetworks = networks(form, errors);
	}
	if (form.get('ownOverlay') === 'yes')
		value.overlay = form.get('hasOverlay') === 'yes' ? overlayOf(form) : null;
	if (Object.keys(errors).length > 0) return { ok: false, errors };
	return { ok: true, value: Object.keys(value).length > 0 ? value : null };
}

function sites(form: FormData, errors: FieldErrors): string[] {
	return lines(form, 'embedSites').flatMap((line) => {
		const site = readSite(line);
		if (site) return [site];
		errors.embedSites = [
			`“${line}” is no site. Write a host such as school.example, or *.school.example for all below it.`
		];
		return [];
	});
}

function countries(form: FormData, errors: FieldErrors): string[] {
	return lines(form, 'blockedCountries').flatMap((line) => {
		const code = line.toUpperCase();
		if (/^[A-Z]{2}$/.test(code)) return [code];
		errors.blockedCountries = [`“${line}” is no country code. Write two letters, such as AT.`];
		return [];
	});
}

function networks(form: FormData, errors: FieldErrors): string[] {
	return lines(form, 'blockedNetworks').flatMap((line) => {
		if (readNetwork(line)) return [line];
		errors.blockedNetworks = [`“${line}” is no address or range. Write 192.0.2.7 or 192.0.2.0/24.`];
		return [];
	});
}

function overlayOf(form: FormData) {
	const field = (name: string) => form.get(`overlay-${name}`);
	return readOverlay({
		shows: field('shows'),
		text: field('text'),
		isMoving: field('moving') === 'yes',
		size: field('size'),
		opacity: field('opacity'),
		colour: field('colour')
	});
}

function lines(form: FormData, name: string): string[] {
	const all = String(form.get(name) ?? '')
		.split(/[\n,;]+/)
		.map((line) => line.trim())
		.filter((line) => line !== '');
	return [...new Set(all)].slice(0, 500);
}
