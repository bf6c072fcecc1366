import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { join } from 'node:path';
import { quiet, ROOT, run, say, SetupError } from './run.mjs';

const onPath = (program) => process.env.PATH.split(':').some((folder) => existsSync(join(folder, program)));

/** The folder of PostgreSQL's server programs, newest version first; null when there is none. */
export function postgresBin() {
  const base = '/usr/lib/postgresql';
  if (!existsSync(base)) return null;
  const versions = readdirSync(base)
    .filter((v) => existsSync(join(base, v, 'bin/initdb')))
    .sort((a, b) => Number(b) - Number(a));
  return versions.length ? join(base, versions[0], 'bin') : null;
}

const sound = (file) => existsSync(join('/usr/share/sounds', file));

const NEEDED = [
  { debian: 'postgresql', there: () => postgresBin() !== null, for: 'database' },
  { debian: 'openssl', there: () => onPath('openssl'), for: 'database' },
  { debian: 'ffmpeg', there: () => onPath('ffmpeg') && onPath('ffprobe'), for: 'all' },
  { debian: 'attr', there: () => onPath('getfattr'), for: 'all' },
  { debian: 'chromium', there: () => onPath('chromium'), for: 'tests' },
  { debian: 'acl', there: () => onPath('setfacl'), for: 'tests' },
  { debian: 'python3-mutagen', there: () => quiet('/usr/bin/python3', ['-c', 'import mutagen']).ok, for: 'checks' },
  { debian: 'fluidsynth', there: () => onPath('fluidsynth'), for: 'bench' },
  { debian: 'fluid-soundfont-gm', there: () => sound('sf2/FluidR3_GM.sf2'), for: 'bench' },
  { debian: 'fluidr3mono-gm-soundfont', there: () => sound('sf3/FluidR3Mono_GM.sf3'), for: 'bench' },
  { debian: 'timgm6mb-soundfont', there: () => sound('sf2/TimGM6mb.sf2'), for: 'bench' },
  { debian: 'csound-soundfont', there: () => sound('sf2/sf_GMbank.sf2'), for: 'bench' },
  { debian: 'avldrums.lv2-soundfont', there: () => sound('sf2/Black_Pearl_4_LV2.sf2'), for: 'bench' },
  { debian: 'mma', there: () => onPath('mma'), for: 'bench' },
  { debian: 'abcmidi', there: () => onPath('abc2midi'), for: 'bench' },
  { debian: 'hydrogen-data', there: () => existsSync('/usr/share/hydrogen/data/demo_songs'), for: 'bench' },
];

/** For tests that are skipped, and counted so, where these cannot be had: a drive as sticks have it. */
const WISHED = [
  { debian: 'exfat-fuse', there: () => existsSync('/usr/sbin/mount.exfat-fuse') },
  { debian: 'exfatprogs', there: () => existsSync('/usr/sbin/mkfs.exfat') },
];

/** Installs what Debian has to bring, when this user may; otherwise says which command to run. */
export async function ensureDebianPackages({ tests = false, bench = false, database = true } = {}) {
  await ensureNeeded(tests, bench, database);
  const missing = WISHED.filter((p) => !p.there()).map((p) => p.debian);
  const isRoot = process.getuid?.() === 0;
  if (!tests || !isRoot || missing.length === 0 || !onPath('apt-get') || !existsSync('/dev/fuse')) return;
  const asked = quiet('apt-get', [
    '-o',
    'DPkg::Lock::Timeout=300',
    'install',
    '-y',
    '--no-install-recommends',
    ...missing,
  ]);
  if (!asked.ok) say(`${missing.join(', ')} cannot be installed here: the tests on exFAT are skipped`);
}

async function ensureNeeded(tests, bench, database) {
  const missing = NEEDED.filter(
    (p) =>
      (p.for === 'all' ||
        (p.for === 'database' && database) ||
        (p.for === 'tests' && tests) ||
        (p.for === 'bench' && bench) ||
        (p.for === 'checks' && (tests || bench))) &&
      !p.there(),
  ).map((p) => p.debian);
  if (missing.length === 0) return;
  const apt = ['-o', 'DPkg::Lock::Timeout=300', 'install', '-y', '--no-install-recommends', ...missing];
  const asRoot = process.getuid?.() === 0;
  const sudo = !asRoot && quiet('sudo', ['-n', 'true']).ok;
  if (!onPath('apt-get') || (!asRoot && !sudo)) {
    throw new SetupError(
      `These programs are missing: ${missing.join(', ')}. Please run: sudo apt-get install -y ${missing.join(' ')}`,
    );
  }
  say(`installing ${missing.join(', ')}`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const call = (args) =>
    asRoot
      ? run('apt-get', args, { env, stdio: ['ignore', 'ignore', 'inherit'] })
      : run('sudo', ['-n', 'apt-get', ...args], { stdio: ['ignore', 'ignore', 'inherit'] });
  await call(['-o', 'DPkg::Lock::Timeout=300', 'update']);
  await call(apt);
}

/** Installs the npm packages of the lock file, unless just these are there already. */
export async function ensureNpmPackages() {
  const wanted = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .digest('hex');
  const stamp = join(ROOT, 'node_modules', '.early-set');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return;
  say('installing npm packages');
  await run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel', 'error'], {
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  writeFileSync(stamp, wanted);
}
