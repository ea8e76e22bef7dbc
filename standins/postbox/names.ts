/** A name server for the demo's domain: it answers for TXT records alone, over UDP on loopback. */
import { createSocket } from 'node:dgram';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { AUTHORITATIVE_ANSWER, decode, encode } from 'dns-packet';

const NAME_ERROR = 3;
/** A string of a TXT record is no longer. */
const STRING_LENGTH = 255;

interface Written {
	name: string;
	text: string;
}

export class Names {
	private records: Written[];
	private readonly socket = createSocket('udp4');

	constructor(private readonly file: string) {
		this.records = existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as Written[]) : [];
		this.socket.on('message', (packet, from) => {
			const answer = this.answerTo(packet);
			if (answer) this.socket.send(answer, from.port, from.address);
		});
	}

	all(): readonly Written[] {
		return this.records;
	}

	/** @param isMore it stands there beside others; else all that stand there are taken out */
	write(name: string, text: string, isMore: boolean): void {
		const at = name.trim().toLowerCase();
		if (at === '') return;
		this.records = isMore
			? [...this.records, { name: at, text: text.trim() }]
			: this.records.filter((one) => one.name !== at);
		writeFileSync(this.file, JSON.stringify(this.records));
	}

	listen(port: number): void {
		this.socket.bind(port, '127.0.0.1');
	}

	close(): void {
		this.socket.close();
	}

	private answerTo(packet: Buffer): Buffer | null {
		let asked;
		try {
			asked = decode(packet);
		} catch {
			return null;
		}
		const [question] = asked.questions ?? [];
		if (!question) return null;
		const name = question.name.toLowerCase();
		const texts = this.records.filter((one) => one.name === name);
		const answers =
			question.type === 'TXT'
				? texts.map(({ text }) => ({
						type: 'TXT' as const,
						name: question.name,
						ttl: 1,
						data: inStrings(text)
					}))
				: [];
		const flags = AUTHORITATIVE_ANSWER | (texts.length === 0 ? NAME_ERROR : 0);
		return encode({ type: 'response', id: asked.id, flags, questions: [question], answers });
	}
}

function inStrings(text: string): string[] {
	return text.match(new RegExp(`.{1,${STRING_LENGTH}}`, 'gs')) ?? [''];
}
