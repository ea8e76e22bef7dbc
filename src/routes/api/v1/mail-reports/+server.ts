import { json } from '@sveltejs/kit';
import { apiProblem, noKey } from '$server/http/api-problem';
import { readToldReport } from '$core/mail/returned';
import { isApiKey } from '$server/usecases/running/api-keys';
import { noteReport, receiveReport, type Heard } from '$server/usecases/mail/returns';
import type { RequestHandler } from './$types';

const FIELDS = {
	mail: '`mail` is the Message-ID of a mail that was sent from here.',
	fate: '`fate` is "late", "refused", "gone" or "complaint".',
	code: '`code` is a code of RFC 3463 such as "5.1.1"; it may be left out.',
	words: '`words` is what the server said; it may be left out.'
};

/** What became of a mail: as the report that a mail server wrote (`message/rfc822`), or in JSON. */
export const POST: RequestHandler = async ({ locals: { app }, request }) => {
	if (!(await isApiKey(app, request.headers.get('authorization')))) return noKey();
	const type = request.headers.get('content-type')?.split(';')[0]?.trim().toLowerCase();
	if (type === 'message/rfc822')
		return answer(await receiveReport(app, new Uint8Array(await request.arrayBuffer())));
	const read = readToldReport(await request.json().catch(() => null));
	return read.ok
		? answer(await noteReport(app, read.report))
		: apiProblem(400, `bad-${read.field}`, FIELDS[read.field]);
};

function answer(heard: Heard): Response {
	switch (heard) {
		case 'noted':
		case 'known':
			return json({ outcome: heard });
		case 'no-such-mail':
			return apiProblem(404, 'no-such-mail', 'No mail of this Message-ID was sent to a member.');
		case 'no-report':
			return apiProblem(
				400,
				'no-report',
				'This is no report that says what became of a mail (RFC 3464, RFC 5965), or it does not name the mail.'
			);
	}
}
