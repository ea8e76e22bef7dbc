import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
	ALL_PERMISSIONS,
	areasOf,
	isPractised,
	mayAt,
	NO_PERMISSIONS,
	PERMISSIONS,
	readPermissions,
	type Permission
} from './permissions';

const held = (...all: Permission[]) => new Set(all);

describe('the Desk of the practice book', () => {
	it.each([
		['/desk', true],
		['/desk/sales', true],
		['/desk/sales/orders/0198', true],
		['/desk/members/0198', true],
		['/desk/members/labels', false],
		['/desk/members/import/x', false],
		['/desk/insight/earned', true],
		['/desk/practice', true],
		['/desk/practice/pay/practice-1', true],
		['/desk/releases/coming', true],
		['/desk/releases', false],
		['/desk/library', false],
		['/desk/plans/0198', false],
		['/desk/settings', false],
		['/desk/mail/words', false],
		['/desk/other-side', false],
		['/desk/toString', false],
		['/plans', false]
	])('%s: %s', (path, isOpen) => {
		expect(isPractised(path)).toBe(isOpen);
	});
});

describe('what somebody may do at the Desk', () => {
	it.each<[Permission[], string, string | null, boolean]>([
		[['sales'], '/desk', null, true],
		[['sales'], '/desk/sales', null, true],
		[['sales'], '/desk/sales/0198', null, true],
		[['sales'], '/desk/sales/0198', 'refund', false],
		[['sales', 'refunds'], '/desk/sales/0198', 'refund', true],
		[['refunds'], '/desk/sales/0198', 'refund', false],
		[['sales'], '/desk/members', null, false],
		[['members'], '/desk/members/0198/anything', 'delete', true],
		[['library'], '/desk/library', 'change', true],
		[['library'], '/desk/library', 'plan', false],
		[['library', 'fences'], '/desk/library', 'plan', true],
		[['settings'], '/desk/settings/media', null, true],
		[['settings'], '/desk/settings/staff', null, false],
		[['staff'], '/desk/settings/staff', 'invite', true],
		[['staff'], '/desk/settings', null, false],
		[['sales'], '/desk/settings/told', 'save', true],
		[['settings'], '/desk/settings/told', null, false],
		[['library'], '/desk/settings', null, false],
		[['members'], '/desk/check/why', null, true],
		[['sales'], '/desk/check/why', null, false],
		[['library'], '/desk/check', null, true],
		[['library'], '/desk/check/item.csv', null, false],
		[['library'], '/desk/nothing-known', null, false],
		[['library'], '/desk/toString', null, false],
		[['library'], '/desk/library/constructor', null, true],
		[['library'], '/videos/wheel', null, false]
	])('%j at %s, %s: %s', (all, path, action, may) => {
		expect(mayAt(held(...all), path, action)).toBe(may);
	});

	it('is never less with more permissions, nothing with none, and everything that there is with all', () => {
		const path = fc.constantFrom(
			'/desk',
			'/desk/library',
			'/desk/sales/1',
			'/desk/settings/staff',
			'/desk/find'
		);
		const action = fc.constantFrom(null, 'plan', 'refund', 'save');
		const some = fc.subarray([...PERMISSIONS]);
		fc.assert(
			fc.property(some, some, path, action, (own, more, at, did) => {
				if (mayAt(held(...own), at, did)) expect(mayAt(held(...own, ...more), at, did)).toBe(true);
				expect(mayAt(NO_PERMISSIONS, at, did)).toBe(false);
				expect(mayAt(ALL_PERMISSIONS, at, did)).toBe(true);
			})
		);
	});

	it('is read from names, and what is none of them is left out', () => {
		expect(readPermissions(['sales', 'everything', 'library', 'sales'])).toEqual(['library', 'sales']);
	});

	it('opens every address that it lists, and lists none that it does not open', () => {
		expect(areasOf(NO_PERMISSIONS)).toEqual([]);
		expect(areasOf(ALL_PERMISSIONS)).toContain('/desk/settings/staff');
		fc.assert(
			fc.property(fc.subarray([...PERMISSIONS]), (all) => {
				const areas = areasOf(held(...all));
				for (const path of areasOf(ALL_PERMISSIONS))
					expect(areas.includes(path), path).toBe(mayAt(held(...all), path));
			})
		);
	});
});
