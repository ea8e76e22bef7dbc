/** The press that makes a signed link to a file: it says which use all requests for it belong to. */
import { v7 as uuidv7 } from 'uuid';
import { networkOf } from '$core/media/network';
import { FILE_PROOF_MS, proofEnd } from '$core/media/proof';
import type { App } from '../../app';
import type { Look } from '../../http/look';
import { decideIn } from '../../http/look';
import { shownItem } from '../../http/shown';
import { fileUses } from './uses';

export type FileLink =
	| { ok: true; address: string }
	/** `used-up` stands for the limit; `closed` for everything else, which the page says better. */
	| { ok: false; code: 'used-up' | 'closed' | 'not-ready' };

export async function makeFileLink(app: App, look: Look, itemId: string): Promise<FileLink> {
	const decision = await decideIn(app, look, itemId);
	if (decision.verdict !== 'open' || look.otherSide)
		return { ok: false, code: decision.verdict === 'used-up' ? 'used-up' : 'closed' };
	const shown = await shownItem(app, itemId);
	if (!shown?.asset || shown.asset.state !== 'ready') return { ok: false, code: 'not-ready' };
	const { memberId } = look;
	const uses = memberId === null ? null : await fileUses(app, memberId, itemId);
	if (uses && uses.used >= uses.limit) return { ok: false, code: 'used-up' };
	const standing = memberId === null ? null : await app.rights.standing(memberId);
	const site = await app.site();
	const signed = app.keys.sign({
		itemId,
		assetId: shown.asset.id,
		memberId,
		epoch: standing?.epoch ?? 0,
		purpose: 'file',
		end: proofEnd(decision.until, app.clock.business(), app.clock.wall(), FILE_PROOF_MS),
		useId: memberId === null ? null : uuidv7(),
		network: site.deterrents.tiesLinks && look.client ? networkOf(look.client) : null
	});
	return { ok: true, address: `/media/file/${signed}/${encodeURIComponent(shown.asset.fileName)}` };
}
