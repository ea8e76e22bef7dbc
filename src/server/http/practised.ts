import { mayAt } from '$core/staff/permissions';
import type { App, Book, Practice } from '../app';
import { hashOf } from '../people/sessions';
import { NoPracticeBook } from '../usecases/practice/practise';
import { cookieValue, saysPractice, sessionCookie } from './cookies';

/** Where somebody may practise. */
const PLACE = '/desk/practice';

/**
 * The practice book, where whoever asks practises; `null`: they do not. It is asked each time whether they are of the staff and
 * may: the cookie alone is nothing.
 * @param header the request's cookies
 */
export async function practisedBy(
	{ app, practice }: { app: App; practice: Practice },
	header: string | null | undefined
): Promise<Book | null> {
	if (!saysPractice(header ?? undefined)) return null;
	const token = cookieValue(header ?? undefined, sessionCookie(app));
	const accountId = token === null ? null : await app.rights.sessionAccount(hashOf(token));
	const standing = accountId === null ? null : await app.rights.standing(accountId);
	if (!standing || !mayAt(standing.permissions, PLACE)) return null;
	return practice.open().catch((error: unknown) => {
		if (error instanceof NoPracticeBook) return null;
		throw error;
	});
}
