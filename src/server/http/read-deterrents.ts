/** Deterrents as forms send them, read once. */
import { ValidateIf, ValidateNested } from 'class-validator';
import {
	readOverlay,
	readSite,
	type Deterrents,
	type OwnDeterrents,
	type Overlay
} from '$core/media/deterrents';
import { readNetwork } from '$core/media/network';
import type { FieldErrors } from './parse';
import { problemsIn, Says } from './rules';

type Read<T> = { ok: true; value: T } | { ok: false; errors: FieldErrors };

/** Lists are sent one a line; of a list, the first line that is wrong is named. */
const wrongLine = (lines: readonly string[], isGood: (line: string) => boolean) =>
	lines.find((line) => !isGood(line)) ?? null;

class SitesForm {
	@Says<SitesForm>(({ embedSites }) => {
		const wrong = wrongLine(embedSites, (line) => readSite(line) !== null);
		return (
			wrong &&
			`“${wrong}” is no site. Write a host such as school.example, or *.school.example for all below it.`
		);
	})
	readonly embedSites: string[];

	constructor(form: FormData) {
		this.embedSites = lines(form, 'embedSites');
	}

	value(): Pick<Deterrents, 'embedSites'> {
		return { embedSites: this.embedSites.flatMap((line) => readSite(line) ?? []) };
	}
}

class PlacesForm {
	@Says<PlacesForm>(({ blockedCountries }) => {
		const wrong = wrongLine(blockedCountries, (line) => /^[A-Z]{2}$/.test(line.toUpperCase()));
		return wrong && `“${wrong}” is no country code. Write two letters, such as AT.`;
	})
	readonly blockedCountries: string[];
	@Says<PlacesForm>(({ blockedNetworks }) => {
		const wrong = wrongLine(blockedNetworks, (line) => readNetwork(line) !== null);
		return wrong && `“${wrong}” is no address or range. Write 192.0.2.7 or 192.0.2.0/24.`;
	})
	readonly blockedNetworks: string[];

	constructor(form: FormData) {
		this.blockedCountries = lines(form, 'blockedCountries');
		this.blockedNetworks = lines(form, 'blockedNetworks');
	}

	value(): Pick<Deterrents, 'blockedCountries' | 'blockedNetworks'> {
		const { blockedCountries, blockedNetworks } = this;
		return { blockedCountries: blockedCountries.map((line) => line.toUpperCase()), blockedNetworks };
	}
}

/** The site's, or an item's own: what is not its own is not looked at. */
class DeterrentsForm {
	@ValidateIf((form: DeterrentsForm) => form.sites !== null)
	@ValidateNested()
	readonly sites: SitesForm | null;
	@ValidateIf((form: DeterrentsForm) => form.places !== null)
	@ValidateNested()
	readonly places: PlacesForm | null;
	readonly overlay: Overlay | null;

	constructor(form: FormData, has: (part: string) => boolean) {
		this.sites = has('ownSites') ? new SitesForm(form) : null;
		this.places = has('ownPlaces') ? new PlacesForm(form) : null;
		this.overlay = form.get('hasOverlay') === 'yes' ? overlayOf(form) : null;
	}

	errors(): FieldErrors {
		return Object.fromEntries(
			problemsIn(this).map(([path, message]) => [path.split('.').at(-1) ?? '', [message]])
		);
	}
}

/** The site's: `embedSites`, `blockedCountries`, `blockedNetworks` as lists, one a line; `overlay*`; `tiesLinks`. */
export function readDeterrents(form: FormData): Read<Deterrents> {
	const read = new DeterrentsForm(form, () => true);
	const errors = read.errors();
	const { sites, places, overlay } = read;
	if (Object.keys(errors).length > 0 || !sites || !places) return { ok: false, errors };
	const tiesLinks = form.get('tiesLinks') === 'yes';
	return { ok: true, value: { ...sites.value(), ...places.value(), overlay, tiesLinks } };
}

/** An item's: each part counts where `own<Part>` is ticked. `null`: nothing of its own. */
export function readOwnDeterrents(form: FormData): Read<OwnDeterrents | null> {
	const has = (part: string) => form.get(part) === 'yes';
	const read = new DeterrentsForm(form, has);
	const errors = read.errors();
	if (Object.keys(errors).length > 0) return { ok: false, errors };
	const value: OwnDeterrents = { ...read.sites?.value(), ...read.places?.value() };
	if (has('ownOverlay')) value.overlay = read.overlay;
	return { ok: true, value: Object.keys(value).length > 0 ? value : null };
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
