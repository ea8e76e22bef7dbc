/** Bare HTTP/1.1 on a socket: what is measured is the server, not a client that unpacks every chunk. */
import { connect, type Socket } from 'node:net';

const BUFFER = 1 << 20;

export interface Target {
	port: number;
	path: string;
	/** Of the Host header. */
	host: string;
	cookie: string | null;
}

function requestOf({ path, host, cookie }: Target, range: string | null): string {
	const fields = [
		`GET ${path} HTTP/1.1`,
		`Host: ${host}`,
		...(cookie === null ? [] : [`Cookie: ${cookie}`]),
		...(range === null ? [] : [`Range: ${range}`])
	];
	return `${fields.join('\r\n')}\r\n\r\n`;
}

/** One connection: asks, and says when an answer is complete. Anything but 200 and 206 ends the measurement. */
class Connection {
	private left = -1;
	private head = '';
	private done: (() => void) | null = null;
	private failed: ((error: Error) => void) | null = null;
	private readonly socket: Socket;

	constructor(private readonly target: Target) {
		this.socket = connect({
			port: target.port,
			host: '127.0.0.1',
			onread: {
				buffer: Buffer.allocUnsafeSlow(BUFFER),
				callback: (count, buffer) => this.read(buffer, count)
			}
		});
		this.socket.setNoDelay(true);
		this.socket.on('error', (error) => this.failed?.(error));
	}

	/** Ends when the whole answer has come. */
	ask(range: string | null): Promise<void> {
		return new Promise((resolve, reject) => {
			this.done = resolve;
			this.failed = reject;
			this.left = -1;
			this.head = '';
			this.socket.write(requestOf(this.target, range));
		});
	}

	end(): void {
		this.socket.destroy();
	}

	private read(buffer: Uint8Array, count: number): boolean {
		let from = 0;
		if (this.left < 0) {
			this.head += Buffer.from(buffer.subarray(0, count)).toString('latin1');
			const end = this.head.indexOf('\r\n\r\n');
			if (end < 0) return true;
			const status = Number(this.head.slice(9, 12));
			if (status !== 200 && status !== 206) {
				this.failed?.(new Error(`${this.target.path} answered ${status}`));
				return false;
			}
			this.left = Number(/content-length: (\d+)/i.exec(this.head)?.[1] ?? 0);
			from = count - (this.head.length - end - 4);
		}
		this.left -= count - from;
		if (this.left === 0) this.done?.();
		return true;
	}
}

/** Megabytes a second of whole answers, one after the other. */
export async function wholeRate(target: Target, bytes: number, times: number): Promise<number> {
	const connection = new Connection(target);
	await connection.ask(null);
	const began = performance.now();
	for (let n = 0; n < times; n++) await connection.ask(null);
	const seconds = (performance.now() - began) / 1000;
	connection.end();
	return (bytes * times) / 1e6 / seconds;
}

/** Ranges a second, at places that are spread over the whole. */
export async function rangeRate(
	target: Target,
	bytes: number,
	rangeBytes: number,
	{ seconds, connections }: { seconds: number; connections: number }
): Promise<number> {
	const places = Math.floor(bytes / rangeBytes);
	let count = 0;
	let end = 0;
	const run = async (connection: Connection, first: number) => {
		for (let n = first; performance.now() < end; n += 7919) {
			const at = (n % places) * rangeBytes;
			await connection.ask(`bytes=${at}-${at + rangeBytes - 1}`);
			count++;
		}
	};
	const all = Array.from({ length: connections }, () => new Connection(target));
	end = performance.now() + 500;
	await Promise.all(all.map(run));
	count = 0;
	end = performance.now() + seconds * 1000;
	await Promise.all(all.map(run));
	for (const connection of all) connection.end();
	return count / seconds;
}

/** Readers who take a little at a time. Gives a function that ends them. */
export async function slowReaders(target: Target, count: number): Promise<() => void> {
	const sockets = await Promise.all(
		Array.from({ length: count }, async () => {
			const socket = connect({ port: target.port, host: '127.0.0.1' });
			await new Promise((resolve, reject) => socket.once('connect', resolve).once('error', reject));
			socket.write(requestOf(target, null));
			socket.on('data', () => socket.pause());
			socket.on('error', () => {});
			return socket;
		})
	);
	const timer = setInterval(() => sockets.forEach((socket) => socket.resume()), 250);
	return () => {
		clearInterval(timer);
		sockets.forEach((socket) => socket.destroy());
	};
}
