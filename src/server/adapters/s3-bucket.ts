import { createWriteStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { Transform, type Readable } from 'node:stream';
import {
	GetObjectCommand,
	HeadObjectCommand,
	ListObjectsV2Command,
	NotFound,
	S3Client,
	type S3ServiceException
} from '@aws-sdk/client-s3';
import type { Bucket } from '../ports/bucket';
import type { Settings } from '../settings';
import { streamedBytes } from './streamed-bytes';

const PAGE = 200;

export function s3Bucket({
	endpoint,
	region,
	name,
	accessKey,
	secretKey
}: NonNullable<Settings['bucket']>): Bucket {
	const client = new S3Client({
		endpoint,
		region,
		credentials: { accessKeyId: accessKey, secretAccessKey: secretKey },
		forcePathStyle: true,
		// Otherwise some stores keep the checksum's framing as if it were content.
		requestChecksumCalculation: 'WHEN_REQUIRED',
		responseChecksumValidation: 'WHEN_REQUIRED'
	});

	async function bodyFrom(key: string, first: number): Promise<Readable> {
		const range = first > 0 ? { Range: `bytes=${first}-` } : {};
		const { Body } = await client.send(new GetObjectCommand({ Bucket: name, Key: key, ...range }));
		return Body as Readable;
	}

	return {
		async list(prefix, from) {
			const found = await client.send(
				new ListObjectsV2Command({
					Bucket: name,
					Prefix: prefix,
					Delimiter: '/',
					MaxKeys: PAGE,
					...(from === null ? {} : { ContinuationToken: from })
				})
			);
			return {
				folders: (found.CommonPrefixes ?? []).flatMap(({ Prefix }) => Prefix ?? []),
				entries: (found.Contents ?? []).flatMap(({ Key, Size, LastModified }) =>
					Key && Key !== prefix
						? [{ key: Key, bytes: Size ?? 0, changedAt: LastModified?.getTime() ?? 0 }]
						: []
				),
				next: found.NextContinuationToken ?? null
			};
		},
		async open(key) {
			const head = await client
				.send(new HeadObjectCommand({ Bucket: name, Key: key }))
				.catch((error: S3ServiceException) => {
					if (error instanceof NotFound || error.$metadata?.httpStatusCode === 404) return null;
					throw error;
				});
			if (!head) return null;
			return streamedBytes({
				size: head.ContentLength ?? 0,
				changedAt: head.LastModified?.getTime() ?? 0,
				from: (first) => bodyFrom(key, first)
			});
		},
		async fetchTo(key, path, onBytes, signal) {
			const counting = new Transform({
				transform(chunk: Buffer, _encoding, done) {
					onBytes(chunk.length);
					done(null, chunk);
				}
			});
			await pipeline(await bodyFrom(key, 0), counting, createWriteStream(path), { signal });
		}
	};
}
