/** The press that makes a signed link to a file: it says which use all requests for it belong to. */
import { v7 as uuidv7 } from 'uuid';
import type { Decision } from '$core/access/decision';
import { networkOf } from '$core/media/network';
import { FILE_PROOF_MS, proofEnd, subjectOf } from '$core/media/proof';
import type { Instant } from '$core/time/instant';
import type { Using } from '../../app';
import type { Look, Looking } from '../../rights/look';
import { fileUses } from '../../rights/file-uses';
import { decideIn } from '../../rights/look';
import { shownItem, type ShownItem } from '../../rights/shown';

export type FileLink =
	| { ok: true; address: string }
	/** `used-up` stands for the limit; `closed` for everything else, which the page says better. */
	| { ok: false; code: 'used-up' | 'closed' | 'not-ready' };

export async function makeFileLink(
	app: Looking & Using<'clock' | 'keys'>,
	look: Look,
	itemId: string
): Promise<FileLink> {
	const decision = await decideIn(app, look, itemId);
	if (decision.verdict !== 'open' || look.otherSide)
		return { ok: false, code: decision.verdict === 'used-up' ? 'used-up' : 'closed' };
	const shown = await shownItem(app, itemId);
	if (!shown?.asset || shown.asset.state !== 'ready') return { ok: false, code: 'not-ready' };
	const { memberId } = look;
	const uses = memberId === null ? null : await fileUses(app, memberId, itemId);
	if (uses && uses.used >= uses.limit) return { ok: false, code: 'used-up' };
	const address = await signedAddress(app, look, shown, decision.until, memberId === null ? null : uuidv7());
	return { ok: true, address };
}

/** An address to hear a recording by that lies elsewhere; `null` where openings are counted, or there is none. */
export async function listenAddress(
	app: Using<'clock' | 'keys' | 'rights' | 'site'>,
	look: Look,
	decision: Decision,
	shown: ShownItem
): Promise<string | null> {
	const isSound = shown.asset?.kind === 'file' && shown.asset.mediaType.startsWith('audio/');
	if (!isSound || decision.verdict !== 'open' || look.otherSide) return null;
	if (decision.allowedBy.by === 'crossing' && decision.allowedBy.isCounted) return null;
	return signedAddress(app, look, shown, decision.until, null);
}

async function signedAddress(
	app: Using<'clock' | 'keys' | 'rights' | 'site'>,
	look: Look,
	{ item, asset }: ShownItem,
	until: Instant | null,
	useId: string | null
): Promise<string> {
	const { memberId } = look;
	const standing = memberId === null ? null : await app.rights.standing(memberId);
	const { deterrents } = await app.site();
	const signed = app.keys.sign({
		itemId: item.id,
		assetId: asset?.id ?? '',
		subject: subjectOf(memberId),
		epoch: standing?.epoch ?? 0,
		purpose: 'file',
		end: proofEnd(until, app.clock.business(), app.clock.wall(), FILE_PROOF_MS),
		useId,
		network: deterrents.tiesLinks && look.client ? networkOf(look.client) : null
	});
	return `/media/file/${signed}/${encodeURIComponent(asset?.fileName ?? 'file')}`;
}
