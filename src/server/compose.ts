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
import { tillPayments } from './adapters/till-payments';
import type { App } from './app';
import { connect, connectVital } from './db/connect';
import { keepBase } from './db/queries/policy';
import { runMigrations } from './db/migrate';
import { newestSecrets } from './db/queries/library';
import { siteSettings } from './db/queries/settings';
import { businessClock } from './db/schema/running';
import { startHousekeeping } from './jobs/housekeeping';
import { Inbox } from './jobs/inbox';
import { Runner } from './jobs/runner';
import { errorForLog } from './log-errors';
import { Population } from './rights/population';
import { Rights } from './rights/rights';
import { SettingsError, type Settings } from './settings';

export interface Stile {
	app: App;
	runner: Runner;
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
	const { db, pool } = connect(settings.databaseUrl);
	const vital = connectVital(settings.databaseUrl, settings.patienceMs);
	const clock = systemClock();
	const keys = localKeys([
		{ id: settings.masterKeyId, bytes: settings.masterKey },
		...settings.oldMasterKeys
	]);
	await refuseMovedClock(db, settings);
	await refuseStrangeKey(db, keys, log);
	await keepBase(db, clock.business());
	const rights = new Rights(vital.db, clock, settings.patienceMs);
	await rights.start();
	const mailer = smtpMailer(settings.smtpUrl, settings.returnsTo);
	const storage = folderStorage(settings.storageFolder);
	await storage.check();
	await storage.clearWork();

	const app: App = {
		settings,
		log,
		db,
		pool,
		vital,
		clock,
		rights,
		population: new Population(db, rights),
		mailer,
		returns: settings.returnsUrl === null ? null : imapReturns(settings.returnsUrl),
		names: dnsNames(settings.nameServers),
		storage,
		bucket: settings.bucket && s3Bucket(settings.bucket),
		outbound: pinnedOutbound(settings.outboundHosts),
		geography: tableGeography(),
		keys,
		processors: {
			card: tillPayments(settings.paymentsUrl, settings.paymentsSecret),
			offline: offlineProcessor({ db, clock })
		},
		signatures: {
			signerOf,
			verify: verifyMessage,
			sign: (message, secret, at, signer) => ({ ...signMessage(message, secret, at, signer) })
		},
		transcoder: ffmpegTranscoder(),
		papers: pdfkitPapers(),
		pictures: sharpPictures(),
		wake: () => runner.wake(),
		site: () => rights.content('site', () => siteSettings(db))
	};
	const runner = new Runner(app);
	let endHousekeeping = () => {};
	const inbox = settings.inboxFolder === null ? null : new Inbox(app, settings.inboxFolder);
	return {
		app,
		runner,
		startJobs(receiveLeft = async () => {}) {
			runner.start();
			endHousekeeping = startHousekeeping(app, receiveLeft);
			inbox?.start();
		},
		async stop() {
			endHousekeeping();
			await inbox?.stop();
			await runner.stop();
			rights.stop();
			mailer.close();
			await Promise.all([pool.end(), vital.pool.end()]);
		}
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
