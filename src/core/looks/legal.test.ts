import { describe, expect, it, test } from 'vitest';
import { LEGAL_ADDRESS, LEGAL_PAGES, legalLinks, missingLegal, NO_LEGAL_LINKS } from './legal';

describe('an address of a legal page', () => {
	test.each([
		['', true],
		['/imprint', true],
		['/legal/terms?v=2#top', true],
		['https://host.example/terms', true],
		['http://host.example', true],
		['mailto:desk@host.example', true],
		['//host.example/imprint', false],
		['/\\\\host.example', false],
		['javascript:alert(1)', false],
		['JavaScript:alert(1)', false],
		['data:text/html,x', false],
		['https://', false],
		['https:///x', false],
		['mailto:desk', false],
		['imprint', false],
		['/im print', false],
		['/imprint\nx', false]
	])('%j: %s', (address, isOne) => {
		expect(LEGAL_ADDRESS.test(address)).toBe(isOne);
	});
});

describe('the links of a shop', () => {
	it('are those that are set, in their order, with whole addresses', () => {
		const links = {
			...NO_LEGAL_LINKS,
			contact: 'mailto:a@b.example',
			imprint: '/imprint',
			terms: 'https://c.example/t'
		};
		expect(legalLinks(links, 'https://clock.example')).toEqual([
			{ page: 'imprint', url: 'https://clock.example/imprint' },
			{ page: 'terms', url: 'https://c.example/t' },
			{ page: 'contact', url: 'mailto:a@b.example' }
		]);
		expect(missingLegal(links)).toEqual(['privacy', 'withdrawal']);
	});

	it('are none where nothing is set, and then all are missing', () => {
		expect(legalLinks(NO_LEGAL_LINKS, 'https://clock.example')).toEqual([]);
		expect(missingLegal(NO_LEGAL_LINKS)).toEqual([...LEGAL_PAGES]);
	});
});
