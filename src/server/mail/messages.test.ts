import { USUAL_COLLECTING } from '$core/billing/agreement-facts';
import { NO_TAX } from '$core/billing/tax';
import { describe, expect, it } from 'vitest';
import { MAIL_KEYS } from '$words/en/mail';
import { NO_LEGAL_LINKS } from '$core/looks/legal';
import { NO_DETERRENTS } from '$core/media/deterrents';
import type { SiteSettings } from '../db/schema/running';
import { letter } from './messages';
import { mailSample } from './sample';

const site: SiteSettings = {
	siteName: 'Fern & <b>Hollow</b>',
	statementName: 'FERN',
	seller: { name: '', address: '', taxNumber: '' },
	senderEmail: 'school@fern.example',
	zone: 'UTC',
	language: 'en',
	currency: 'EUR',
	turnAway: { answer: { kind: 'absent' }, cases: {}, teaser: { kind: 'nothing' } },
	limits: { uses: 'none', minutes: 'none', hours: 'none' },
	releaseHour: null,
	lapseAfterDays: 1,
	mayPause: true,
	remindsAfterHours: null,
	legal: { ...NO_LEGAL_LINKS, imprint: '/imprint', contact: 'mailto:desk@fern.example' },
	payBy: ['card'],
	offline: { name: '', how: '' },
	collecting: USUAL_COLLECTING,
	looks: { colour: null },
	deterrents: NO_DETERRENTS,
	tax: NO_TAX,
	staffNeedCode: false
};
const url = 'https://clock.example/enter/token';
const order = (plan: string) =>
	letter(site, null, {
		key: 'order',
		to: 'wren@mail.example',
		values: { plan, amount: '12.00 EUR', number: 'S-1', statement: 'FERN' },
		url,
		table: [{ label: 'Order', value: 'S-1' }],
		accountUrl: 'https://clock.example/account',
		origin: 'https://clock.example'
	});

describe('a mail', () => {
	it('has its button first, then what was bought, then the rest, in text as in HTML', () => {
		const { text, html } = order('Workshop');
		for (const [of, button] of [
			[text, `Open Workshop: ${url}`],
			[html, `<a href="${url}"`]
		] as const) {
			const places = [
				of.indexOf('Thank you'),
				of.indexOf(button),
				of.indexOf('S-1'),
				of.indexOf('The payment stands')
			];
			expect(places).toEqual([...places].sort((a, b) => a - b));
			expect(Math.min(...places)).toBeGreaterThanOrEqual(0);
		}
		expect(text).not.toMatch(/<(?:p|a|table)\b/);
	});

	it('writes names as they are, and takes no mark from them', () => {
		const { html, subject, text } = order('A <img src=x onerror=y> & "plan"\n{site}');
		expect(html).not.toContain('<img');
		expect(html).not.toContain('<b>Hollow');
		expect(html).toContain('Fern &#38; &#60;b&#62;Hollow');
		expect(text).toContain('A <img src=x onerror=y> & "plan"\n{site}');
		// A subject is one line.
		expect(subject).not.toContain('\n');
	});

	it('is written in the publisher’s words where there are some', () => {
		const own = { subject: 'Come in, {plan}', text: 'First.\n\n\nSecond {plan}.', button: null };
		const mail = letter(site, own, {
			key: 'order',
			to: 'wren@mail.example',
			values: { plan: 'Workshop' },
			url,
			origin: 'https://clock.example'
		});
		expect(mail).toMatchObject({ subject: 'Come in, Workshop', to: 'wren@mail.example' });
		const foot = 'Imprint: https://clock.example/imprint\n\nContact: mailto:desk@fern.example';
		expect(mail.text).toBe(`First.\n\nSecond Workshop.\n\n${foot}\n\nFern & <b>Hollow</b>`);
		expect(mail.html).not.toContain(url);
	});

	it.each(MAIL_KEYS)('of every kind can be shown with made-up values: %s', (key) => {
		const { subject, text, html } = mailSample(site, key, null);
		expect(subject + text + html).not.toMatch(/[{}]/);
		expect(text).toContain('https://clock.example/enter/a-way-in');
	});
});
