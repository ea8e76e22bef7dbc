import { describe, expect, it } from 'vitest';
import { ALL_PERMISSIONS, areasOf, type Permission } from '$core/staff/permissions';
import { findSettings, settingPlaces, settingsSections } from './settings-places';

const ALL = areasOf(ALL_PERMISSIONS);
const areas = (...held: Permission[]) => areasOf(new Set(held));
const found = (text: string) => findSettings(text, ALL, true).map(({ label }) => label);

describe('the settings', () => {
	it.each([
		['', []],
		['   ', []],
		['currency', ['Currency for new prices']],
		['curency', ['Currency for new prices']],
		['CARD statements', ['Name on card statements']],
		['token', ['Keys for programs']],
		['kept out', ['Countries that are blocked', 'Networks that are blocked']],
		[
			'mony',
			[
				'Currency for new prices',
				'Name on card statements',
				'Who sells, and where',
				'Reminders of what was begun to be bought',
				'Cards that are declined'
			]
		],
		['xylophone', []]
	])('by “%s”', (text, labels) => {
		expect(found(text)).toEqual(labels);
	});

	it('stand in a section each, and each section has one', () => {
		const sections = settingsSections(ALL, true).map(({ href }) => href);
		const of = settingPlaces(ALL, true).map(({ href }) => href.split('#')[0] ?? '');
		expect(of.filter((href) => !sections.includes(href))).toEqual([]);
		expect(sections.filter((href) => !of.includes(href))).toEqual([]);
		expect(new Set(settingPlaces(ALL, true).map(({ href }) => href)).size).toBe(of.length);
	});

	it('are those that somebody may open, and there is a clock only where it can be moved', () => {
		const labels = (held: string[], hasClock = true) =>
			settingsSections(held, hasClock).map(({ label }) => label);
		expect(labels(areas('staff'))).toEqual(['Staff and roles']);
		expect(labels(areas('members'))).toEqual(['Mails to you']);
		expect(labels(areas('settings'))).not.toContain('Staff and roles');
		expect(labels(ALL)).toContain('Demo clock');
		expect(labels(ALL, false)).not.toContain('Demo clock');
		expect(findSettings('move the clock', ALL, false)).toEqual([]);
	});
});
