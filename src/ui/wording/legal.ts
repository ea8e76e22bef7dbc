import type { LegalPage } from '$core/looks/legal';

/** What they are called at the Desk. */
export const LEGAL_WORDS: Record<LegalPage, string> = {
	imprint: 'Imprint: who the seller is',
	terms: 'Terms of sale',
	privacy: 'Privacy',
	withdrawal: 'Right of withdrawal',
	contact: 'Contact'
};

/** The same within a sentence. */
export const LEGAL_SHORT: Record<LegalPage, string> = {
	imprint: 'imprint',
	terms: 'terms',
	privacy: 'privacy',
	withdrawal: 'right of withdrawal',
	contact: 'contact'
};
