import { expect, it } from 'vitest';
import { errorForLog } from './log-errors';

it('keeps what was typed out of the log, at every depth, and says what happened', () => {
	const database = Object.assign(new Error("Duplicate entry 'wren@mail.example' for key 'accounts_email'"), {
		code: 'ER_DUP_ENTRY',
		sql: "insert into accounts values ('wren@mail.example')"
	});
	const query = new Error('Failed query: insert into `accounts` values (?)\nparams: wren@mail.example', {
		cause: database
	});
	const logged = errorForLog(new Error('An order could not be begun', { cause: query }));
	expect(JSON.stringify(logged)).not.toContain('wren');
	expect(logged).toMatchObject({
		message: 'An order could not be begun',
		cause: {
			message: 'Failed query: insert into `accounts` values (?)',
			cause: { code: 'ER_DUP_ENTRY', message: "Duplicate entry '…' for key 'accounts_email'" }
		}
	});
	expect(logged.stack).toContain('log-errors.test.ts');
});
