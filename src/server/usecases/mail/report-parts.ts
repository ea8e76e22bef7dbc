/** Takes a report out of its MIME clothing (RFC 6522). */
import PostalMime from 'postal-mime';
import type { ReportParts } from '$core/mail/returned';

const KINDS: readonly [keyof ReportParts, RegExp][] = [
	// `global-…`: RFC 6533, for addresses that are not written in ASCII.
	['status', /^message\/(?:global-)?delivery-status$/],
	['feedback', /^message\/feedback-report$/],
	['original', /^(?:message\/(?:rfc822|global)|text\/rfc822-headers|message\/global-headers)$/]
];
const MOST_PARTS_DEEP = 20;

/** What cannot be read has no parts. */
export async function reportParts(raw: Uint8Array): Promise<ReportParts> {
	const parts: ReportParts = { status: null, feedback: null, original: null };
	const read = await PostalMime.parse(raw, {
		forceRfc822Attachments: true,
		attachmentEncoding: 'utf8',
		maxNestingDepth: MOST_PARTS_DEEP
	}).catch(() => null);
	for (const { mimeType, content } of read?.attachments ?? []) {
		const kind = KINDS.find(([, type]) => type.test(mimeType))?.[0];
		if (kind !== undefined && parts[kind] === null && typeof content === 'string') parts[kind] = content;
	}
	return parts;
}
