import type { Handle } from './launch.mjs';

export function startNginx(ask: {
	folder: string;
	port: number;
	stilePort: number | string;
	securePort?: number | null;
	storage: string;
	bare?: string | null;
}): Promise<Handle>;
