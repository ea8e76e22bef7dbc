import type { Logger } from 'pino';
import type { Pool } from 'mysql2/promise';
import type { Connected, Db } from './db/connect';
import type { Lane, SiteSettings } from './db/schema/running';
import type { Bucket } from './ports/bucket';
import type { Clock } from './ports/clock';
import type { Geography } from './ports/geography';
import type { Keys } from './ports/keys';
import type { Mailer } from './ports/mail';
import type { Names } from './ports/names';
import type { Outbound } from './ports/outbound';
import type { Returns } from './ports/returns';
import type { Processors } from './ports/payments';
import type { Papers } from './ports/papers';
import type { Pictures } from './ports/pictures';
import type { Signatures } from './ports/signatures';
import type { Storage } from './ports/storage';
import type { Transcoder } from './ports/transcoder';
import type { Population } from './rights/population';
import type { Rights } from './rights/rights';
import type { Settings } from './settings';

/** The running Stile. Made in compose.ts and nowhere else; use cases and reads name what they need of it. */
export interface App {
	/** Whether it is the practice book: nothing of it is in the figures of the site, and nobody outside hears of it. */
	isPractice: boolean;
	settings: Settings;
	log: Logger;
	db: Db;
	pool: Pool;
	/** For rights, leases and health alone: never behind the work of others. */
	vital: Connected;
	clock: Clock;
	rights: Rights;
	population: Population;
	keys: Keys;
	/** Whoever takes the money, by name. */
	processors: Processors;
	signatures: Signatures;
	mailer: Mailer;
	/** Where servers report what became of mails; `null`: there is no such mailbox. */
	returns: Returns | null;
	names: Names;
	storage: Storage;
	/** `null`: there is no object store. */
	bucket: Bucket | null;
	outbound: Outbound;
	geography: Geography;
	transcoder: Transcoder;
	papers: Papers;
	pictures: Pictures;
	/** Wakes the workers: something was queued. */
	wake: () => void;
	site: () => Promise<SiteSettings>;
}

/** The part of it that something needs: it says so, and is handed no more. */
export type Using<K extends keyof App> = Pick<App, K>;

/** Runs what is due. */
export interface Runs {
	runDue(lane: Lane): Promise<number>;
	/** Runs the billing jobs that fall due up to a moment to come, each as of its own moment. */
	runAhead(until: number): Promise<number>;
}

/** A Stile on one database: the site's own, or the practice book. */
export interface Book {
	app: App;
	runner: Runs;
}

/** The practice book, which is opened when somebody practises, and then stays open: what falls due in it goes on. */
export interface Practice {
	/** Throws `NoPracticeBook` where the database's user may not make it. */
	open(): Promise<Book>;
	/** `null`: there is none yet. */
	openIfThere(): Promise<Book | null>;
	/** Until somebody asks for it again. */
	close(): Promise<void>;
}

/** Who does something; `null` is Stile itself. */
export type Actor = { id: string } | null;
