/** Makes the demo's files and its recording: tables and templates as PDF and CSV, an hour of podcast in eight seconds. */
import { execFile } from 'node:child_process';
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { PDFDocument, rgb, StandardFonts } from 'pdf-lib';

const run = promisify(execFile);
const INK = rgb(0.08, 0.13, 0.17);

export interface DemoFiles {
	tables: string;
	dial: string;
	counts: string;
	hour: string;
}

export const CAPTIONS = `WEBVTT

00:00.500 --> 00:06.000
The anchor holds the wheel for most of each swing.

00:06.500 --> 00:13.000
Lock, drop, impulse: three words, and then it is quiet again.

00:14.000 --> 00:22.000
Too little lock shows first at the third tooth.
`;

export const CHAPTERS = [
	{ startSeconds: 0, title: 'Lock' },
	{ startSeconds: 25, title: 'Drop' },
	{ startSeconds: 50, title: 'Impulse' }
];

/** Paths of the files, made where they are missing. */
export async function makeFiles(folder: string): Promise<DemoFiles> {
	mkdirSync(folder, { recursive: true });
	const at = (name: string) => join(folder, name);
	const files = {
		tables: at('wheel-cutting tables.pdf'),
		dial: at('dial template.pdf'),
		counts: at('teeth and leaves.csv'),
		hour: at('The Escapement Hour 1.mp3')
	};
	if (!existsSync(files.tables)) writeFileSync(files.tables, await tables());
	if (!existsSync(files.dial)) writeFileSync(files.dial, await dial());
	writeFileSync(files.counts, 'wheel,teeth,pinion\ngreat,96,8\ncentre,80,8\nthird,75,8\nescape,30,8\n');
	if (!existsSync(files.hour)) await hour(files.hour);
	return files;
}

async function tables(): Promise<Uint8Array> {
	const pdf = await PDFDocument.create();
	const font = await pdf.embedFont(StandardFonts.Helvetica);
	for (let page = 0; page < 3; page++) {
		const sheet = pdf.addPage([420, 595]);
		sheet.drawText('Wheel-cutting tables', { x: 40, y: 540, size: 18, font, color: INK });
		for (let row = 0; row < 20; row++) {
			const teeth = 24 + page * 20 + row;
			const text = `${teeth} teeth   ${(360 / teeth).toFixed(3)} degrees   module 0.8: ${((teeth + 2.76) * 0.8).toFixed(2)} mm`;
			sheet.drawText(text, { x: 40, y: 505 - row * 22, size: 11, font, color: INK });
		}
	}
	return pdf.save();
}

async function dial(): Promise<Uint8Array> {
	const pdf = await PDFDocument.create();
	const sheet = pdf.addPage([420, 420]);
	sheet.drawCircle({ x: 210, y: 210, size: 180, borderColor: INK, borderWidth: 1.5 });
	for (let minute = 0; minute < 60; minute++) {
		const angle = (minute * Math.PI) / 30;
		const inner = minute % 5 === 0 ? 150 : 168;
		sheet.drawLine({
			start: { x: 210 + inner * Math.sin(angle), y: 210 + inner * Math.cos(angle) },
			end: { x: 210 + 178 * Math.sin(angle), y: 210 + 178 * Math.cos(angle) },
			thickness: minute % 5 === 0 ? 2 : 0.7,
			color: INK
		});
	}
	return pdf.save();
}

/** Ticks and a hum, in place of a voice. */
async function hour(path: string): Promise<void> {
	const tick = "aevalsrc='0.5*sin(2*PI*1900*t)*exp(-60*mod(t,1))+0.05*sin(2*PI*110*t)':d=24:s=44100";
	await run('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', tick, '-b:a', '64k', path]);
}
