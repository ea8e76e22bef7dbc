import type { Work } from '../../transact';

/** Once for each asset, until it is run again. */
export async function queuePreparation(work: Work, assetId: string): Promise<void> {
	await work.queue({
		queue: 'media',
		kind: 'prepare',
		key: `prepare:${assetId}`,
		payload: { assetId },
		subjectId: assetId
	});
}
