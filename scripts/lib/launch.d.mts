export interface Handle {
	child: { pid?: number };
	stop(): Promise<void>;
}
export interface World {
	settings: Record<string, string>;
	/** `over`: settings of a second node. */
	startStile(over?: Record<string, string>): Promise<Handle>;
	/** Ends it, too, when the world is ended. */
	alsoStop(handle: Handle): void;
	stop(): Promise<void>;
	ownerUrl(): string | null;
}
export type Ports = Record<string, number>;
export function portsFrom(base: number): Ports;
export function launch(ask: {
	folder: string;
	ports: Ports;
	isFresh: boolean;
	isThrowaway?: boolean;
	say?: <T>(name: string, work: () => T | Promise<T>) => Promise<T> | T;
}): Promise<World>;
