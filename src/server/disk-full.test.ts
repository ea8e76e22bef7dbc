import { expect, test } from 'vitest';
import { isDiskFull } from './disk-full';
import { DiskFull } from './ports/transcoder';

const failed = (fields: object) => Object.assign(new Error('failed'), fields);

test.each([
	['the file system', failed({ code: 'ENOSPC', errno: -28 }), true],
	['an encoder', new DiskFull(), true],
	['the database’s disk', failed({ code: 'ER_DISK_FULL', errno: 1021 }), true],
	['a table that is full', failed({ errno: 1114 }), true],
	['a statement that failed for it', new Error('Failed query', { cause: failed({ errno: 1021 }) }), true],
	['a taken key', failed({ code: 'ER_DUP_ENTRY', errno: 1062 }), false],
	['a missing file', failed({ code: 'ENOENT', errno: -2 }), false],
	['nothing', null, false]
])('of %s: a full disk is told from everything else', (_, error, expected) => {
	expect(isDiskFull(error)).toBe(expected);
});
