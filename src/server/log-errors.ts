/** Errors as the log keeps them: with their cause, and without what was written to the database or typed by anybody. */

interface Logged {
	type: string;
	message: string;
	code?: string | number;
	stack?: string;
	cause?: Logged;
}

const MOST_CAUSES = 5;

export function errorForLog(error: unknown, depth = 0): Logged {
	if (!(error instanceof Error))
		return { type: typeof error, message: 'Something that is no error was thrown' };
	const { code } = error as { code?: unknown };
	return {
		type: error.name,
		message: withoutValues(error.message),
		...(typeof code === 'string' || typeof code === 'number' ? { code } : {}),
		...(depth === 0 && error.stack ? { stack: framesOf(error.stack) } : {}),
		...(error.cause !== undefined && depth < MOST_CAUSES
			? { cause: errorForLog(error.cause, depth + 1) }
			: {})
	};
}

/** A failed query lists its parameters behind its text; MariaDB quotes values in its own messages. */
function withoutValues(message: string): string {
	const [before = ''] = message.split(/\nparams:/);
	return /^Duplicate entry|^Data too long|^Incorrect .* value/.test(before)
		? before.replace(/'(?:[^'\\]|\\.)*'/, "'…'")
		: before;
}

/** Where it happened; the first line repeats the message. */
function framesOf(stack: string): string {
	return stack
		.split('\n')
		.filter((line) => /^\s+at /.test(line))
		.join('\n');
}
