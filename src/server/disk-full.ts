/** Whether something failed because nothing more can be written: here, or where the database lies. */
const DATABASE_FULL = new Set([
	// ER_DISK_FULL, ER_RECORD_FILE_FULL (MariaDB's error codes).
	1021, 1114
]);

export function isDiskFull(error: unknown): boolean {
	for (let e = error; e instanceof Error; e = e.cause) {
		const { code, errno } = e as NodeJS.ErrnoException;
		if (code === 'ENOSPC' || code === 'disk-full' || DATABASE_FULL.has(errno ?? 0)) return true;
	}
	return false;
}
