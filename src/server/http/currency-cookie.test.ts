import type { Cookies } from '@sveltejs/kit';
import { expect, test } from 'vitest';
import { currencyOf } from './cookies';

const ORIGIN = 'https://clock.example';

test.each<[string, string, string | null, string | undefined, string | null]>([
	['nothing was said', '/plans', null, undefined, null],
	['it was said before', '/plans', 'USD', 'USD', null],
	['its address says it, and it is kept', '/plans?currency=CHF', null, 'CHF', 'CHF'],
	['its address says another one than before', '/plans?currency=CHF', 'USD', 'CHF', 'CHF'],
	['its address names none that there is', '/plans?currency=XXX', 'USD', 'USD', null],
	['its address names one in small letters', '/plans?currency=chf', null, undefined, null],
	['what is kept is none', '/plans', 'constructor', undefined, null]
])('a device on which %s', (_, path, kept, expected, written) => {
	const set: string[] = [];
	const cookies = {
		get: () => kept ?? undefined,
		set: (_name: string, value: string) => void set.push(value)
	} as unknown as Cookies;
	expect(currencyOf(cookies, new URL(path, ORIGIN), ORIGIN)).toBe(expected);
	expect(set[0] ?? null).toBe(written);
});
