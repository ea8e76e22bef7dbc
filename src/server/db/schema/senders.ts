/** By which mails are known to be the publisher's. */
import { boolean, index, int, mysqlTable, text, unique, varchar } from 'drizzle-orm/mysql-core';
import type { RecordVerdict, WantedRecord } from '../../../core/mail/sender-records';
import { id, instant, json } from './types';

/** Keys that mails are signed with (DKIM), the newest of a domain last. */
export const senderKeys = mysqlTable(
	'sender_keys',
	{
		id: id(),
		domain: varchar('domain', { length: 253 }).notNull(),
		/** `stile1`, `stile2` and on, for each domain. */
		number: int('number').notNull(),
		/** As it stands in the name, in base64. */
		publicKey: text('public_key').notNull(),
		keyId: varchar('key_id', { length: 60 }).notNull(),
		sealed: text('sealed').notNull(),
		/** Whether it stood in its name when that was looked at last: only then it signs. */
		signs: boolean('signs').notNull().default(false),
		createdAt: instant('created_at').notNull()
	},
	(t) => [
		unique('sender_keys_number').on(t.domain, t.number),
		index('sender_keys_signs').on(t.domain, t.signs)
	]
);

/** What was found of one kind, and what is to be written where it is not good. */
export interface RecordLook {
	/** Where it stands, or where one was looked for. */
	name: string;
	verdict: RecordVerdict;
	wanted: WantedRecord | null;
}

/** What the names of a domain said when they were looked at last. */
export const senderLooks = mysqlTable('sender_looks', {
	domain: varchar('domain', { length: 253 }).primaryKey(),
	at: instant('at').notNull(),
	spf: json<RecordLook>()('spf').notNull(),
	/** `null`: there was no key yet. */
	dkim: json<RecordLook>()('dkim'),
	dmarc: json<RecordLook>()('dmarc').notNull()
});
