/** Makes the demo's videos: drawn loops with synthesised ticks. The same every time, and kept between starts. */
import { execFile } from 'node:child_process';
import { existsSync, mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import sharp from 'sharp';
import { bell, dial, escapement, gear, oiler, pendulum, picture } from './drawing';

const run = promisify(execFile);

const FRAMES_A_SECOND = 15;
const LOOP_SECONDS = 2;
const SAMPLES_A_SECOND = 22_050;

interface Film {
	file: string;
	seconds: number;
	/** Ticks a loop, and how high they sound. */
	ticks: number;
	hertz: number;
	draw: (turn: number) => string;
}

export const FILMS: readonly Film[] = [
	{
		file: 'welcome',
		seconds: 40,
		ticks: 2,
		hertz: 1800,
		draw: (t) => picture(dial(320, 170, 130, t) + gear(560, 270, 48, 16, 4, t))
	},
	{
		file: 'strip',
		seconds: 90,
		ticks: 4,
		hertz: 2400,
		draw: (t) =>
			picture(gear(230, 180, 100, 32, 4, t) + gear(382, 180, 40, 12, -4, t) + gear(470, 110, 56, 16, 4, t))
	},
	{
		file: 'escapement',
		seconds: 75,
		ticks: 2,
		hertz: 2900,
		draw: (t) => picture(escapement(320, 150, t), '#F6F1E2')
	},
	{
		file: 'pendulum',
		seconds: 60,
		ticks: 2,
		hertz: 1500,
		draw: (t) => picture(pendulum(320, 30, 240, t) + dial(110, 110, 70, t))
	},
	{
		file: 'strike',
		seconds: 65,
		ticks: 2,
		hertz: 880,
		draw: (t) => picture(bell(290, 170, t) + gear(100, 110, 54, 16, 4, t), '#E8EEF0')
	},
	{
		file: 'oil',
		seconds: 45,
		ticks: 1,
		hertz: 600,
		draw: (t) => picture(oiler(340, 180, t) + gear(120, 240, 60, 20, 4, t), '#EFEAF2')
	}
];

/** Paths of the films, made where they are missing. */
export async function makeFilms(folder: string): Promise<Map<string, string>> {
	mkdirSync(folder, { recursive: true });
	const made = new Map<string, string>();
	for (const film of FILMS) {
		const path = join(folder, `${film.file}.mp4`);
		if (!existsSync(path)) await makeFilm(film, folder, path);
		made.set(film.file, path);
	}
	return made;
}

async function makeFilm(film: Film, folder: string, path: string): Promise<void> {
	const work = join(folder, `${film.file}.work`);
	mkdirSync(work, { recursive: true });
	const frames = FRAMES_A_SECOND * LOOP_SECONDS;
	for (let n = 0; n < frames; n++) {
		await sharp(Buffer.from(film.draw(n / frames)))
			.png()
			.toFile(join(work, `${String(n).padStart(3, '0')}.png`));
	}
	writeFileSync(join(work, 'ticks.wav'), ticking(film));
	await run('ffmpeg', [
		...[
			'-v',
			'error',
			'-y',
			'-loop',
			'1',
			'-framerate',
			String(FRAMES_A_SECOND),
			'-i',
			join(work, '%03d.png')
		],
		...[
			'-i',
			join(work, 'ticks.wav'),
			'-t',
			String(film.seconds),
			'-c:v',
			'libx264',
			'-preset',
			'veryfast',
			'-crf',
			'26'
		],
		...[
			'-pix_fmt',
			'yuv420p',
			'-g',
			String(frames),
			'-c:a',
			'aac',
			'-b:a',
			'64k',
			'-fflags',
			'+bitexact',
			`${path}.new.mp4`
		]
	]);
	renameSync(`${path}.new.mp4`, path);
	rmSync(work, { recursive: true });
}

/** Short decaying tones at even distances, as 16-bit mono PCM in a WAV file. */
function ticking({ seconds, ticks, hertz }: Film): Buffer {
	const samples = seconds * SAMPLES_A_SECOND;
	const every = (LOOP_SECONDS * SAMPLES_A_SECOND) / ticks;
	const data = Buffer.alloc(samples * 2);
	for (let n = 0; n < samples; n++) {
		const since = (n % every) / SAMPLES_A_SECOND;
		const pitch = Math.floor(n / every) % 2 === 0 ? hertz : hertz * 0.84;
		data.writeInt16LE(
			Math.round(9000 * Math.exp(-since * 28) * Math.sin(2 * Math.PI * pitch * since)),
			n * 2
		);
	}
	const head = Buffer.alloc(44);
	head.write('RIFF', 0);
	head.writeUInt32LE(36 + data.length, 4);
	head.write('WAVEfmt ', 8);
	head.writeUInt32LE(16, 16);
	head.writeUInt16LE(1, 20);
	head.writeUInt16LE(1, 22);
	head.writeUInt32LE(SAMPLES_A_SECOND, 24);
	head.writeUInt32LE(SAMPLES_A_SECOND * 2, 28);
	head.writeUInt16LE(2, 32);
	head.writeUInt16LE(16, 34);
	head.write('data', 36);
	head.writeUInt32LE(data.length, 40);
	return Buffer.concat([head, data]);
}
