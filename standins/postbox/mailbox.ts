/** The mailbox that servers write back to: as much of IMAP4rev1 (RFC 3501) as reading what is new in it takes, on loopback. */
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer, type Server, type Socket } from 'node:net';

export const MAILBOX_USER = 'stile';
export const MAILBOX_PASSWORD = 'demo';

interface Letter {
	uid: number;
	raw: string;
	isSeen: boolean;
}

export class Mailbox {
	private letters: Letter[];
	private readonly server: Server;

	/** @param file where it is kept; `null`: nowhere */
	constructor(private readonly file: string | null) {
		this.letters =
			file !== null && existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as Letter[]) : [];
		this.server = createServer((socket) => new Session(this, socket));
	}

	/** @param raw a whole mail, its lines ended by CR LF */
	add(raw: string): void {
		this.letters.push({ uid: (this.letters.at(-1)?.uid ?? 0) + 1, raw, isSeen: false });
		this.keep();
	}

	all(): readonly Letter[] {
		return this.letters;
	}

	see(uid: number): void {
		this.letters = this.letters.map((one) => (one.uid === uid ? { ...one, isSeen: true } : one));
		this.keep();
	}

	listen(port: number): Promise<number> {
		return new Promise((resolve) =>
			this.server.listen(port, '127.0.0.1', () => {
				const address = this.server.address();
				resolve(typeof address === 'object' && address !== null ? address.port : port);
			})
		);
	}

	close(): void {
		this.server.close();
	}

	private keep(): void {
		if (this.file !== null) writeFileSync(this.file, JSON.stringify(this.letters));
	}
}

class Session {
	private isLetIn = false;
	private left = '';

	constructor(
		private readonly box: Mailbox,
		private readonly socket: Socket
	) {
		socket.setEncoding('latin1');
		socket.on('error', () => socket.destroy());
		socket.on('data', (data: string) => {
			const lines = (this.left + data).split('\r\n');
			this.left = lines.pop() ?? '';
			for (const line of lines) this.answer(line);
		});
		this.say('* OK [CAPABILITY IMAP4rev1] The Postbox');
	}

	private say(line: string): void {
		this.socket.write(`${line}\r\n`, 'latin1');
	}

	private answer(line: string): void {
		const [tag = '*', command = '', ...args] = wordsOf(line);
		const isByUid = command.toUpperCase() === 'UID';
		const [name = '', ...rest] = isByUid ? args : [command, ...args];
		const done = this.carryOut(name.toUpperCase(), rest);
		this.say(`${tag} ${done}`);
		if (name.toUpperCase() === 'LOGOUT') this.socket.end();
	}

	private carryOut(command: string, args: readonly string[]): string {
		switch (command) {
			case 'CAPABILITY':
				this.say('* CAPABILITY IMAP4rev1');
				return 'OK';
			case 'NOOP':
				return 'OK';
			case 'LOGOUT':
				this.say('* BYE');
				return 'OK';
			case 'LOGIN':
				this.isLetIn = args[0] === MAILBOX_USER && args[1] === MAILBOX_PASSWORD;
				return this.isLetIn ? 'OK' : 'NO [AUTHENTICATIONFAILED] Nobody of that name and password';
		}
		return this.isLetIn ? this.read(command, args) : 'BAD Log in first';
	}

	private read(command: string, args: readonly string[]): string {
		const letters = this.box.all();
		switch (command) {
			case 'LIST':
				this.say('* LIST () "/" INBOX');
				return 'OK';
			case 'SELECT':
				if (args[0]?.toUpperCase() !== 'INBOX') return 'NO There is no such folder';
				this.say('* FLAGS (\\Seen)');
				this.say('* OK [PERMANENTFLAGS (\\Seen)]');
				this.say(`* ${letters.length} EXISTS`);
				this.say('* OK [UIDVALIDITY 1]');
				this.say(`* OK [UIDNEXT ${(letters.at(-1)?.uid ?? 0) + 1}]`);
				return 'OK [READ-WRITE]';
			case 'SEARCH': {
				const found = letters.filter((letter) => fits(letter, args));
				this.say(`* SEARCH${found.map(({ uid }) => ` ${uid}`).join('')}`);
				return 'OK';
			}
			case 'FETCH': {
				const at = letters.findIndex(({ uid }) => uid === Number(args[0]));
				const letter = letters[at];
				const part = /BODY(?:\.PEEK)?\[\](?:<(\d+)\.(\d+)>)?/i.exec(args.slice(1).join(' '));
				if (!letter || !part) return 'OK';
				const bytes = Buffer.from(letter.raw, 'utf8');
				const sent = part[2] === undefined ? bytes : bytes.subarray(0, Number(part[2]));
				const from = part[2] === undefined ? '' : '<0>';
				this.socket.write(
					`* ${at + 1} FETCH (UID ${letter.uid} BODY[]${from} {${sent.length}}\r\n`,
					'latin1'
				);
				this.socket.write(sent);
				this.say(')');
				return 'OK';
			}
			case 'STORE':
				if (args.join(' ').includes('\\Seen')) this.box.see(Number(args[0]));
				return 'OK';
			default:
				return 'BAD The Postbox does not know this';
		}
	}
}

/** Of the keys of a search, `UNSEEN` and `HEADER` count; the others let everything through. */
function fits({ raw, isSeen }: Letter, keys: readonly string[]): boolean {
	const upper = keys.map((key) => key.toUpperCase());
	if (upper.includes('UNSEEN') && isSeen) return false;
	const header = upper.indexOf('HEADER');
	if (header < 0) return true;
	const head = raw.split('\r\n\r\n')[0]?.replace(/\r\n[ \t]+/g, ' ') ?? '';
	return head.split('\r\n').some((line) => {
		const at = line.indexOf(':');
		const value = line.slice(at + 1).toUpperCase();
		return line.slice(0, at).toUpperCase() === upper[header + 1] && value.includes(upper[header + 2] ?? '');
	});
}

function wordsOf(line: string): string[] {
	const found = line.match(/"(?:[^"\\]|\\.)*"|[^\s"]+/g) ?? [];
	return found.map((word) => (word.startsWith('"') ? word.slice(1, -1).replace(/\\(.)/g, '$1') : word));
}
