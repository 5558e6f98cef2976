// What the machine must have before anything of ours can run: packages from the lock file and Debian's programs.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';

export const root = path.resolve(import.meta.dirname, '..');
export const dataFolder = path.join(root, '.data');

/** Keys lie beside the data they belong to, not in it: whoever copies the one has not copied the other. */
export const keyFileOf = (name) => path.join(dataFolder, 'keys', name);

/** Ends the program with one clear sentence. */
export function giveUp(sentence) {
  process.stderr.write(`\n${sentence}\n`);
  process.exit(1);
}

export function say(words) {
  process.stdout.write(`${words}\n`);
}

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19))
    giveUp(
      `Ash Kettle needs Node.js 20.19 or later; this is ${process.versions.node}. Install a newer one and start again.`,
    );
}

/** Installs the packages of the lock file when they are missing or other than it says. */
export function ensurePackages() {
  const hash = createHash('sha256')
    .update(readFileSync(path.join(root, 'package-lock.json')))
    .digest('hex');
  const stamp = path.join(root, 'node_modules', '.kettle-lock');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === hash) return;
  say('Installing packages from the lock file (a few minutes on a first start) …');
  const done = spawnSync('npm', ['ci', '--ignore-scripts', '--no-audit', '--no-fund'], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  if (done.error || done.status !== 0) giveUp(`The packages could not be installed: ${lastLine(done)}`);
  writeFileSync(stamp, hash);
}

/** Programs by the Debian package that brings them. */
const debianPrograms = {
  'mariadb-server-core': ['mariadbd', 'mariadb-install-db'],
  'mariadb-client-core': ['mariadb'],
  'mariadb-client': ['mariadb-dump'],
  'chromium-headless-shell': ['chromium-headless-shell'],
  'dovecot-imapd': ['dovecot'],
  'galera-4': ['libgalera_smm.so'],
  'python3-radicale': ['radicale/__main__.py'],
};

const searchPath = [
  ...['/usr/local/sbin', '/usr/local/bin', '/usr/sbin', '/usr/bin', '/sbin', '/bin'],
  // Where a library lies that a program loads.
  '/usr/lib/galera',
  '/usr/lib/python3/dist-packages',
];

export function findProgram(name) {
  const folders = [...(process.env.PATH ?? '').split(':'), ...searchPath];
  return folders.map((folder) => path.join(folder, name)).find((file) => existsSync(file));
}

/** Installs Debian packages whose programs are missing, with sudo where that is needed. */
export function ensureDebian(packages) {
  const missing = packages.filter((name) => debianPrograms[name].some((program) => !findProgram(program)));
  if (missing.length === 0) return;
  const byHand = `Install them with: sudo apt-get install --no-install-recommends ${missing.join(' ')}`;
  if (!findProgram('apt-get'))
    giveUp(
      `These programs are missing, and there is no apt-get here: ${missing.join(', ')}. Install them and start again.`,
    );
  const prefix = process.getuid?.() === 0 ? [] : ['sudo', '-n'];
  if (prefix.length > 0 && !findProgram('sudo'))
    giveUp(`These packages are missing and installing them needs root. ${byHand}`);
  say(`Installing Debian packages: ${missing.join(', ')} …`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const apt = (...words) => {
    const [program, ...rest] = [...prefix, 'apt-get', '-qq', ...words];
    return spawnSync(program, rest, { env, stdio: ['ignore', 'ignore', 'pipe'] });
  };
  apt('update');
  const done = apt('install', '-y', '--no-install-recommends', ...missing);
  if (done.error || done.status !== 0)
    giveUp(`The packages ${missing.join(', ')} could not be installed (${lastLine(done)}). ${byHand}`);
}

export function ensureFolder(folder) {
  try {
    mkdirSync(folder, { recursive: true });
  } catch (error) {
    giveUp(diskSentence(error, folder));
  }
}

export function diskSentence(error, folder) {
  if (error.code === 'ENOSPC')
    return `The disk is full: nothing could be written in ${folder}. Make room and start again.`;
  if (error.code === 'EACCES' || error.code === 'EROFS')
    return `${folder} cannot be written to. Change its rights and start again.`;
  return `${folder} could not be made: ${error.message}`;
}

function lastLine(done) {
  const text = done.error?.message ?? String(done.stderr ?? '');
  return (
    text
      .trim()
      .split('\n')
      .findLast((line) => line.trim() && !line.startsWith('npm warn')) ?? 'no reason was given'
  );
}

/** How Node.js runs our sources as they are: compiled as they are loaded, with the mark of texts ($localize) defined. */
export const fromSources = ['--import', 'tsx', '--import', '@angular/localize/init'];
