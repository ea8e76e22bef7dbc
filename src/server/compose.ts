/** The only place where adapters are chosen. */
import pino from 'pino';
import { ffmpegTranscoder } from './adapters/ffmpeg-transcoder';
import { folderStorage } from './adapters/folder-storage';
import { localKeys } from './adapters/local-keys';
import { signerOf, signMessage, verifyMessage } from './adapters/message-signature';
import { pdfkitPapers } from './adapters/pdfkit-papers';
import { pinnedOutbound } from './adapters/pinned-outbound';
import { imapReturns } from './adapters/imap-returns';
import { s3Bucket } from './adapters/s3-bucket';
import { sharpPictures } from './adapters/sharp-pictures';
import { dnsNames } from './adapters/dns-names';
import { smtpMailer } from './adapters/smtp-mailer';
import { systemClock } from './adapters/system-clock';
import { tableGeography } from './adapters/table-geography';
import { offlineProcessor } from './usecases/sales/offline-processor';
import { practiceMailer } from './usecases/practice/practice-mailer';
import { practiceProcessor } from './usecases/practice/practice-processor';
import { tillPayments } from './adapters/till-payments';
import type { App, Practice } from './app';
import { connect, connectVital } from './db/connect';
import { hasPracticeBook, isPracticeBusy, makePracticeBook, practiceUrl } from './db/practice-book';
import { keepBase } from './db/queries/policy';
import { runMigrations } from './db/migrate';
import { newestSecrets } from './db/queries/library';
import { siteSettings } from './db/queries/settings';
import { businessClock } from './db/schema/running';
import { startHousekeeping, startPracticeRounds } from './jobs/housekeeping';
import { Inbox } from './jobs/inbox';
import { Runner } from './jobs/runner';
import { errorForLog } from './log-errors';
import { Population } from './rights/population';
import { Rights } from './rights/rights';
import { SettingsError, type Settings } from './settings';

export interface Stile {
	app: App;
	runner: Runner;
	practice: Practice;
	/** Begins to run jobs. @param receiveLeft takes over uploads that came whole and were left */
	startJobs(receiveLeft?: () => Promise<unknown>): void;
	stop(): Promise<void>;
}

export async function compose(settings: Settings): Promise<Stile> {
	const log = pino({
		level: settings.logLevel,
		base: { name: 'stile' },
		serializers: { err: (error: unknown) => errorForLog(error) }
	});
	await runMigrations(settings.databaseUrl);
	const keys = localKeys([
		{ id: settings.masterKeyId, bytes: settings.masterKey },
		...settings.oldMasterKeys
	]);
	const mailer = smtpMailer(settings.smtpUrl, settings.returnsTo);
	const storage = folderStorage(settings.storageFolder);
	const card = tillPayments(settings.paymentsUrl, settings.paymentsSecret);
	const besides: Besides = {
		log,
		returns: settings.returnsUrl === null ? null : imapReturns(settings.returnsUrl),
		names: dnsNames(settings.nameServers),
		storage,
		bucket: settings.bucket && s3Bucket(settings.bucket),
		outbound: pinnedOutbound(settings.outboundHosts),
		geography: tableGeography(),
		keys,
		signatures: {
			signerOf,
			verify: verifyMessage,
			sign: (message, secret, at, signer) => ({ ...signMessage(message, secret, at, signer) })
		},
		transcoder: ffmpegTranscoder(),
		papers: pdfkitPapers(),
		pictures: sharpPictures()
	};
	const own = open(settings, {}, (db, clock) => ({
		...besides,
		...{ isPractice: false, mailer, processors: { card, offline: offlineProcessor({ db, clock }) } }
	}));
	const { app, runner } = own;
	await refuseMovedClock(app.db, settings);
	await refuseStrangeKey(app.db, keys, log);
	await keepBase(app.db, app.clock.business());
	await app.rights.start();
	await storage.check();
	await storage.clearWork();

	let endHousekeeping = () => {};
	const inbox = settings.inboxFolder === null ? null : new Inbox(app, settings.inboxFolder);
	const practice = practiceOf(settings, besides);
	return {
		app,
		runner,
		practice,
		startJobs(receiveLeft = async () => {}) {
			runner.start();
			endHousekeeping = startHousekeeping(app, receiveLeft);
			inbox?.start();
			// What falls due in the practice book goes on, too.
			void isPracticeBusy(settings.databaseUrl)
				.then((isBusy) => (isBusy ? practice.open() : null))
				.catch((error: unknown) => log.warn({ err: error }, 'the practice book could not be opened'));
		},
		async stop() {
			endHousekeeping();
			await inbox?.stop();
			await practice.close();
			await own.stop();
			mailer.close();
		}
	};
}

/** What every book has in common. */
type Besides = Pick<
	App,
	| 'bucket'
	| 'geography'
	| 'keys'
	| 'log'
	| 'names'
	| 'outbound'
	| 'papers'
	| 'pictures'
	| 'returns'
	| 'signatures'
	| 'storage'
	| 'transcoder'
>;
/** What a book has of its own, beside what is made of its database. */
type Own = Besides & Pick<App, 'isPractice' | 'mailer' | 'processors'>;

/** A few people practise at once, and nobody else comes there. */
const PRACTICE_CONNECTIONS = { work: 4, vital: 2 };

interface Opened {
	app: App;
	runner: Runner;
	stop(): Promise<void>;
}

/** Opens a book; its rights are not read yet. */
function open(
	settings: Settings,
	connections: { work?: number; vital?: number },
	ownOf: (db: App['db'], clock: App['clock']) => Own
): Opened {
	const { db, pool } = connect(settings.databaseUrl, connections.work);
	const vital = connectVital(settings.databaseUrl, settings.patienceMs, connections.vital);
	const clock = systemClock();
	const rights = new Rights(vital.db, clock, settings.patienceMs);
	const app: App = {
		...ownOf(db, clock),
		...{ settings, db, pool, vital, clock, rights, population: new Population(db, rights) },
		wake: () => runner.wake(),
		site: () => rights.content('site', () => siteSettings(db))
	};
	const runner = new Runner(app);
	return {
		app,
		runner,
		async stop() {
			await runner.stop();
			rights.stop();
			await Promise.all([pool.end(), vital.pool.end()]);
		}
	};
}

function practiceOf(settings: Settings, besides: Besides): Practice {
	let opened: Promise<Opened> | null = null;
	async function opening(): Promise<Opened> {
		await makePracticeBook(settings.databaseUrl);
		// Its time is its own: whoever practises moves it on to see what follows.
		const own = { ...settings, databaseUrl: practiceUrl(settings.databaseUrl), hasMovableClock: true };
		const book = open(own, PRACTICE_CONNECTIONS, (db, clock) => ({
			...besides,
			...{
				isPractice: true,
				keys: practised(besides.keys),
				returns: null,
				mailer: practiceMailer({ db, clock })
			},
			processors: { card: practiceProcessor({ db, clock }), offline: offlineProcessor({ db, clock }) }
		}));
		await book.app.rights.start();
		book.runner.start();
		const endRounds = startPracticeRounds(book.app);
		return { ...book, stop: () => (endRounds(), book.stop()) };
	}
	const openNow = () => {
		const now = (opened ??= opening());
		// What could not be opened is tried again by whoever asks next.
		now.catch(() => (opened = opened === now ? null : opened));
		return now;
	};
	return {
		open: openNow,
		openIfThere: async () =>
			opened !== null || (await hasPracticeBook(settings.databaseUrl)) ? openNow() : null,
		async close() {
			const now = opened;
			opened = null;
			await now?.then((book) => book.stop()).catch(() => {});
		}
	};
}

/** What is signed or sealed where somebody practises is good there, and nowhere else: links of its mails are read by staff. */
function practised(keys: App['keys']): App['keys'] {
	const own = (purpose: string) => `practice ${purpose}`;
	return {
		...keys,
		signText: (purpose, text) => keys.signText(own(purpose), text),
		readText: (purpose, signed) => keys.readText(own(purpose), signed),
		seal: (purpose, text) => keys.seal(own(purpose), text),
		unseal: (purpose, secret) => keys.unseal(own(purpose), secret)
	};
}

/** A database whose business clock was moved belongs to a demo: its periods are not real ones. */
async function refuseMovedClock(db: App['db'], settings: Settings): Promise<void> {
	const [row] = await db.select().from(businessClock);
	if (settings.mode === 'production' && row?.offsetMs !== 0) {
		throw new SettingsError(
			'This database is a demo whose clock was moved. Give production a database of its own.'
		);
	}
}

/** Going on under a key that opens nothing would make streams that nobody can tell from the ones that are lost. */
async function refuseStrangeKey(db: App['db'], keys: App['keys'], log: App['log']): Promise<void> {
	for (const secret of await newestSecrets(db)) {
		const can = keys.canOpen(secret);
		if (can === 'wrong')
			throw new SettingsError(
				`The master key named ${secret.keyId} does not open the streams that were prepared under that name. Set the one they were made with, or give the new one a STILE_MASTER_KEY_ID of its own.`
			);
		if (can === 'unknown')
			log.error(
				`Streams were prepared under master key ${secret.keyId}, which is not loaded: nobody can play them. Add it to STILE_OLD_MASTER_KEYS.`
			);
	}
}
