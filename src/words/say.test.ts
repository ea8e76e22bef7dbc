import { describe, expect, it, test } from 'vitest';
import { MAIL, MAIL_KEYS, MAIL_NAMES } from './en/mail';
import { problemOf, say } from './say';

describe('a message', () => {
	// ICU MessageFormat, plural rules of the Unicode CLDR.
	test.each([
		['{count, plural, one {# item} other {# items}}', { count: 1 }, 'en', '1 item'],
		['{count, plural, one {# item} other {# items}}', { count: 2 }, 'en', '2 items'],
		['{count, plural, =0 {nothing} one {# Datei} other {# Dateien}}', { count: 0 }, 'de', 'nothing'],
		['{count, number}', { count: 1234.5 }, 'de', '1.234,5'],
		['{who, select, staff {you} other {{who}}}', { who: 'Wren' }, 'en', 'Wren'],
		['Open {plan}', { plan: '<b>{x}</b>' }, 'en', 'Open <b>{x}</b>'],
		['<i>plain</i> text', {}, 'en', '<i>plain</i> text']
	])('%s', (pattern, values, language, expected) => {
		expect(say(pattern, values, language)).toBe(expected);
	});

	it('is no message where a value is missing', () => {
		expect(() => say('Open {plan}', {}, 'en')).toThrow();
	});
});

describe('what is wrong with a message that somebody typed', () => {
	test.each([
		['Open {plan}', null],
		['Open {plan', { code: 'unreadable' }],
		['Open plan}', null],
		['Open {shop}', { code: 'unknown-name', name: 'shop' }],
		['{count, plural, one {{shop}} other {{plan}}}', { code: 'unknown-name', name: 'count' }],
		['{plan, select, a {{shop}} other {}}', { code: 'unknown-name', name: 'shop' }],
		['{plan, plural, one {x}}', { code: 'unreadable' }]
	])('%s', (pattern, expected) => {
		expect(problemOf(pattern, ['plan'], 'en')).toEqual(expected);
	});
});

it('has no mail that speaks of what is not known when it is written', () => {
	for (const key of MAIL_KEYS)
		for (const pattern of [MAIL[key].subject, MAIL[key].text, MAIL[key].button])
			expect(problemOf(pattern, MAIL_NAMES[key], 'en'), `${key}: ${pattern}`).toBeNull();
});
