import { json } from '@sveltejs/kit';
import { parse } from '$server/http/parse';
import { record } from '$server/http/read-window';
import { drawMail } from '$server/mail/preview';
import { draftOf } from '../draft';
import { DraftForm } from '../form';
import type { RequestHandler } from './$types';

/** A mail as it would arrive with what is typed by now; `null`: it cannot be read. */
export const POST: RequestHandler = async ({ locals: { app, viewer }, request }) => {
	const sent = record(await request.json().catch(() => null));
	const form = new FormData();
	for (const [name, value] of Object.entries(sent)) if (typeof value === 'string') form.set(name, value);
	const parsed = await parse(DraftForm, form);
	const read = parsed.ok ? draftOf(viewer, parsed.data) : null;
	return json(read?.ok ? await drawMail(app, read.draft) : null);
};
