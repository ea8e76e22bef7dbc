/** The only place where adapters are chosen. */
import { eq } from 'drizzle-orm';
import pino from 'pino';
import { NO_DETERRENTS } from '$core/media/deterrents';
import { ffmpegTranscoder } from './adapters/ffmpeg-transcoder';
import { folderStorage } from './adapters/folder-storage';
import { localKeys } from './adapters/local-keys';
import { pinnedOutbound } from './adapters/pinned-outbound';
import { s3Bucket } from './adapters/s3-bucket';
import { smtpMailer } from './adapters/smtp-mailer';
import { systemClock } from './adapters/system-clock';
import { tableGeography } from './adapters/table-geography';
import { tillPayments } from './adapters/till-payments';
import type { App } from './app';
import { connect } from './db/connect';
import { runMigrations } from './db/migrate';
import { businessClock, settings as settingsTable, type SiteSettings } from './db/schema/running';
import { startHousekeeping } from './jobs/housekeeping';
import { Inbox } from './jobs/inbox';
import { Runner } from './jobs/runner';
import { Rights } from './rights/rights';
import { SettingsError, type Settings } from './settings';

export interface Stile {
	app: App;
	runner: Runner;
	/** Begins to run jobs. */
	startJobs(): void;
	stop(): Promise<void>;
}

export async function compose(settings: Settings): Promise<Stile> {
	const log = pino({ level: settings.logLevel, base: { name: 'stile' } });
	const { db, pool } = connect(settings.databaseUrl);
	const clock = systemClock();
	await runMigrations(pool);
	await refuseMovedClock(db, settings);
	const rights = new Rights(db, clock);
	await rights.start();
	const mailer = smtpMailer(settings.smtpUrl);
	const storage = folderStorage(settings.storageFolder);
	await storage.check();

	const readSite = async (): Promise<SiteSettings> => {
		const [row] = await db.select().from(settingsTable).where(eq(settingsTable.id, 1));
		if (!row) throw new Error('The settings are missing: run the migrations');
		// Settings of an older version know nothing of what came later.
		return { ...row.value, deterrents: { ...NO_DETERRENTS, ...row.value.deterrents } };
	};
	const app: App = {
		settings,
		log,
		db,
		pool,
		clock,
		rights,
		mailer,
		storage,
		bucket: settings.bucket && s3Bucket(settings.bucket),
		outbound: pinnedOutbound(settings.outboundHosts),
		geography: tableGeography(),
		keys: localKeys([{ id: settings.masterKeyId, bytes: settings.masterKey }, ...settings.oldMasterKeys]),
		payments: tillPayments(settings.paymentsUrl, settings.paymentsSecret),
		transcoder: ffmpegTranscoder(),
		wake: () => runner.wake(),
		site: () => rights.content('site', readSite)
	};
	const runner = new Runner(app);
	let endHousekeeping = () => {};
	const inbox = settings.inboxFolder === null ? null : new Inbox(app, settings.inboxFolder);
	return {
		app,
		runner,
		startJobs() {
			runner.start();
			endHousekeeping = startHousekeeping(app);
			inbox?.start();
		},
		async stop() {
			endHousekeeping();
			await inbox?.stop();
			await runner.stop();
			rights.stop();
			mailer.close();
			await pool.end();
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
