declare module 's3rver' {
	import type { IncomingMessage, ServerResponse } from 'node:http';

	export default class S3rver {
		constructor(options: {
			directory: string;
			silent: boolean;
			allowMismatchedSignatures: boolean;
			configureBuckets: { name: string; configs: string[] }[];
		});
		configureBuckets(): Promise<void>;
		callback(): (req: IncomingMessage, res: ServerResponse) => void;
	}
}
