import { json } from '@sveltejs/kit';

/** What a program is answered that cannot be given what it asks for. @param error for the program, @param message for people */
export function apiProblem(status: number, error: string, message: string): Response {
	return json({ error, message }, { status });
}

export function noKey(): Response {
	return apiProblem(
		401,
		'no-key',
		'Send an API key in force: "Authorization: Bearer …". The Desk makes them, in Settings.'
	);
}
