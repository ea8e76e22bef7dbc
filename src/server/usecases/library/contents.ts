/** Opens the bytes of an asset, wherever they lie. */
import type { Using } from '../../app';
import type { Asset } from '../../db/queries/library';
import type { OpenBytes } from '../../ports/storage';

/** `null` where they are gone, or cannot be reached. */
export async function openAsset(
	app: Using<'bucket' | 'outbound' | 'storage'>,
	{ source, originalKey }: Asset
): Promise<OpenBytes | null> {
	if (source === null) return app.storage.open(originalKey);
	if (source.kind === 'bucket') return app.bucket?.open(source.key) ?? null;
	return app.outbound.open(source.url);
}
