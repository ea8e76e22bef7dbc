/**
 * Pictures that somebody brought in: told by their content, decoded with a limit on their size, and drawn anew, so that
 * nothing of the file itself is ever handed on.
 */
import { fileTypeFromFile } from 'file-type';
import sharp from 'sharp';
import type { Pictures } from '../ports/pictures';

const COVER_WIDTH = 1280;
/** 8,000 by 6,000: what phones make, and no bomb. */
const MOST_PIXELS = 48_000_000;
const TAKEN = new Set(['image/jpeg', 'image/png', 'image/webp', 'image/gif']);

export function sharpPictures(): Pictures {
	return {
		async cover(path) {
			const type = await fileTypeFromFile(path).catch(() => undefined);
			if (!type || !TAKEN.has(type.mime)) return null;
			return sharp(path, { limitInputPixels: MOST_PIXELS, failOn: 'error', pages: 1 })
				.rotate()
				.resize({ width: COVER_WIDTH, withoutEnlargement: true })
				.flatten({ background: '#ffffff' })
				.jpeg({ quality: 84 })
				.timeout({ seconds: 20 })
				.toBuffer()
				.catch(() => null);
		}
	};
}
