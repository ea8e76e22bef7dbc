/**
 * The pages that a shop says who it is and on what terms it sells: linked at the foot of every page and mail.
 *
 * Each is a path of the site, an address elsewhere, or a mail address. Example: imprint `/imprint`, contact
 * `mailto:desk@host.example`. What the law asks of a publisher is for the publisher to know.
 */
export const LEGAL_PAGES = ['imprint', 'terms', 'privacy', 'withdrawal', 'contact'] as const;
export type LegalPage = (typeof LEGAL_PAGES)[number];

/** Empty: there is none. */
export type LegalLinks = Readonly<Record<LegalPage, string>>;

export const NO_LEGAL_LINKS: LegalLinks = {
	imprint: '',
	terms: '',
	privacy: '',
	withdrawal: '',
	contact: ''
};

/** What may stand there: nothing that runs, and no address that begins with another host by its slashes alone. */
export const LEGAL_ADDRESS = /^(?:|\/(?![/\\])[^\s]*|https?:\/\/[^\s/][^\s]*|mailto:[^\s@]+@[^\s@]+)$/i;

/** Those that are set, in their order, with whole addresses. @param origin of the site */
export function legalLinks(links: LegalLinks, origin: string): { page: LegalPage; url: string }[] {
	return LEGAL_PAGES.flatMap((page) => {
		const address = links[page];
		if (address === '') return [];
		return [{ page, url: address.startsWith('/') ? `${origin}${address}` : address }];
	});
}

export function missingLegal(links: LegalLinks): LegalPage[] {
	return LEGAL_PAGES.filter((page) => links[page] === '');
}
