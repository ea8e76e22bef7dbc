/** Installs what is missing: Debian's packages and npm's. */
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import process from 'node:process';
import { Problem, run } from './steps.mjs';

/** Commands that Stile calls, and the Debian packages that bring them. */
export const NEEDED = {
	mariadbd: 'mariadb-server-core',
	'mariadb-install-db': 'mariadb-server-core',
	// Called by mariadb-install-db.
	my_print_defaults: 'mariadb-client-core',
	ffmpeg: 'ffmpeg',
	pdfinfo: 'poppler-utils'
};
export const NEEDED_BY_TESTS = {
	...NEEDED,
	chromium: 'chromium',
	'mariadb-dump': 'mariadb-client',
	openssl: 'openssl'
};

const FOLDERS = [...(process.env.PATH ?? '').split(':'), '/usr/sbin', '/usr/bin', '/sbin', '/bin'];

function hasCommand(name) {
	return FOLDERS.some((folder) => folder !== '' && existsSync(`${folder}/${name}`));
}

export async function installDebianPackages(needed) {
	const missing = new Set(Object.keys(needed).filter((command) => !hasCommand(command)));
	if (missing.size === 0) return;
	const packages = [...new Set([...missing].map((command) => needed[command]))];
	if (!hasCommand('apt-get')) {
		throw new Problem(
			`${packages.join(', ')} is missing and this is not Debian: install it, then run this again.`
		);
	}
	const isRoot = process.getuid?.() === 0;
	if (!isRoot && (!hasCommand('sudo') || (await run('sudo', ['-n', 'true'])).code !== 0)) {
		throw new Problem(
			`${packages.join(', ')} is missing, and there is no right to install it: run "sudo apt-get install ${packages.join(' ')}", then this again.`
		);
	}
	const apt = (args) =>
		run(isRoot ? 'apt-get' : 'sudo', isRoot ? args : ['-n', 'apt-get', ...args], {
			env: { DEBIAN_FRONTEND: 'noninteractive' }
		});
	await apt(['update']);
	const { code, output } = await apt(['install', '-y', '--no-install-recommends', ...packages]);
	if (code !== 0) {
		throw new Problem(`Debian could not install ${packages.join(', ')}: ${output.trim().split('\n').at(-1)}`);
	}
}

/** Runs `npm ci` unless the installed packages are those of the lock file. */
export async function installNpmPackages() {
	const wanted = createHash('sha256').update(readFileSync('package-lock.json')).digest('hex');
	const stamp = 'node_modules/.stile-lock';
	if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return;
	const { code, output } = await run('npm', ['ci', '--no-audit', '--no-fund']);
	if (code !== 0)
		throw new Problem(`npm could not install the packages: ${output.trim().split('\n').slice(-3).join(' ')}`);
	mkdirSync('node_modules', { recursive: true });
	writeFileSync(stamp, wanted);
}
