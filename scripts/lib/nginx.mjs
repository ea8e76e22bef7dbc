/** Starts an nginx with the configuration that ships with Stile, for tests and measurements. */
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import process from 'node:process';
import { isListening, start, until } from './processes.mjs';
import { Problem, run } from './steps.mjs';

const UP_WITHIN_MS = 10_000;
const OWN_COPY = '.stile/nginx';

/**
 * The system's nginx, or the program out of Debian's package, unpacked here: installing the package would start a server of
 * its own.
 */
async function findNginx() {
	for (const path of ['/usr/sbin/nginx', '/usr/local/sbin/nginx', `${OWN_COPY}/usr/sbin/nginx`])
		if (existsSync(path)) return resolve(path);
	mkdirSync(OWN_COPY, { recursive: true });
	const fetched = await run('apt-get', ['download', 'nginx'], { cwd: OWN_COPY });
	const name = readdirSync(OWN_COPY).find((file) => file.endsWith('.deb'));
	if (fetched.code !== 0 || !name)
		throw new Problem(
			'nginx is missing and could not be fetched: run "sudo apt-get update", then this again.'
		);
	const unpacked = await run('dpkg', ['-x', join(OWN_COPY, name), OWN_COPY]);
	if (unpacked.code !== 0) throw new Problem(`nginx could not be unpacked: ${unpacked.output.trim()}`);
	return resolve(`${OWN_COPY}/usr/sbin/nginx`);
}

/** The lines that the file has for a certificate, with one that is made here. */
async function withCertificate(prefix, port, text) {
	if (port === null) return text;
	const [certificate, key] = [join(prefix, 'own.pem'), join(prefix, 'own.key')];
	const options = ['-x509', '-newkey', 'rsa:2048', '-nodes', '-days', '2', '-subj', '/CN=127.0.0.1'];
	const made = await run('openssl', ['req', ...options, '-out', certificate, '-keyout', key]);
	if (made.code !== 0) throw new Problem(`No certificate could be made: ${made.output.trim()}`);
	return text
		.replace('# listen 443 ssl http2;', `listen 127.0.0.1:${port} ssl http2;`)
		.replace('# ssl_certificate /etc/ssl/clock.example.pem;', `ssl_certificate ${certificate};`)
		.replace('# ssl_certificate_key /etc/ssl/clock.example.key;', `ssl_certificate_key ${key};`);
}

/**
 * @param folder where its log and temporary files go
 * @param storage Stile's storage
 * @param securePort where it also listens with a certificate, one of its own that nobody vouches for
 * @param bare a path under which the storage is open to everybody: only to measure against
 */
export async function startNginx({ folder, port, stilePort, storage, securePort = null, bare = null }) {
	const program = await findNginx();
	const prefix = resolve(folder, 'nginx');
	mkdirSync(join(prefix, 'tmp'), { recursive: true });
	const server = (await withCertificate(prefix, securePort, readFileSync('deploy/nginx.conf', 'utf8')))
		.replace('server 127.0.0.1:4100;', `server 127.0.0.1:${stilePort};`)
		.replace('listen 80;', `listen 127.0.0.1:${port};`)
		.replace('alias /srv/stile/storage/;', `alias ${resolve(storage)}/;`)
		.replace(
			/\}\s*$/,
			bare
				? `\tlocation ${bare} {\n\t\talias ${resolve(storage)}/;\n\t\tsendfile on;\n\t\tsendfile_max_chunk 2m;\n\t\ttcp_nopush off;\n\t\topen_file_cache max=1000 inactive=30s;\n\t}\n}\n`
				: '}\n'
		);
	const temporary = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi']
		.map((name) => `${name}_temp_path ${prefix}/tmp/${name};`)
		.join('\n');
	const isRoot = process.getuid?.() === 0;
	writeFileSync(
		join(prefix, 'nginx.conf'),
		`${isRoot ? 'user root;\n' : ''}worker_processes 1;\ndaemon off;\npid ${prefix}/nginx.pid;\nerror_log stderr warn;\nevents { worker_connections 2048; }\nhttp {\naccess_log off;\nkeepalive_requests 1000000;\n${temporary}\n${server}\n}\n`
	);
	const nginx = start('nginx', program, ['-p', prefix, '-c', join(prefix, 'nginx.conf'), '-e', 'stderr'], {
		env: {},
		log: join(folder, 'logs/nginx.log')
	});
	await until(() => isListening(port), nginx, UP_WITHIN_MS);
	return nginx;
}
