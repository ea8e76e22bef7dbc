/** Column types that MariaDB and the core agree on. */
import { customType } from 'drizzle-orm/mysql-core';
import { v7 as uuidv7 } from 'uuid';

/** MariaDB's native UUID; UUIDv7 keys keep their order in it. */
export const uuid = customType<{ data: string; driverData: string }>({ dataType: () => 'uuid' });

/** Keys are UUIDv7 (RFC 9562 §5.7): they sort by the time they were made. */
export const id = () =>
	uuid('id')
		.primaryKey()
		.$defaultFn(() => uuidv7());

/** An instant of the core (ms, UTC) as DATETIME(3); the session's zone is always +00:00. */
export const instant = customType<{ data: number; driverData: string }>({
	dataType: () => 'datetime(3)',
	toDriver: (ms) => new Date(ms).toISOString().replace('T', ' ').replace('Z', ''),
	fromDriver: (text) => Date.parse(text.replace(' ', 'T') + 'Z')
});

/** JSON text, parsed. */
export const json = <T>() =>
	customType<{ data: T; driverData: string }>({
		dataType: () => 'json',
		toDriver: (value) => JSON.stringify(value),
		fromDriver: (text) => JSON.parse(text) as T
	});

/** Text compared character by character: the default collation takes `é` for `e`, which an address must not. */
export const exactText = (name: string, length: number) =>
	customType<{ data: string; driverData: string }>({
		dataType: () => `varchar(${length}) character set utf8mb4 collate utf8mb4_bin`
	})(name);

/** Bytes, up to 16 MB. */
export const blob = customType<{ data: Buffer; driverData: Buffer }>({ dataType: () => 'mediumblob' });
