/** The drive that a folder lies on, as the system tells: by what it is known again, and what it can hold. */
import type { Drive } from '@early-set/core/api/types';
import { readdir, readFile, readlink, realpath, stat, statfs } from 'node:fs/promises';
import { basename, join } from 'node:path';

interface Mount {
  mountPoint: string;
  fileSystem: string;
  source: string;
}

/** Spaces and the like are written in octal. */
const unescaped = (text: string): string =>
  text.replace(/\\([0-7]{3})/g, (_, digits: string) => String.fromCharCode(Number.parseInt(digits, 8)));

/** The lines of /proc/self/mountinfo (proc_pid_mountinfo(5)); none where there is no such file. */
async function mounts(): Promise<Mount[]> {
  const text = await readFile('/proc/self/mountinfo', 'utf8').catch(() => '');
  return text.split('\n').flatMap((line) => {
    const [left, right] = line.split(' - ');
    const mountPoint = left?.split(' ')[4],
      [fileSystem, source] = right?.split(' ') ?? [];
    return mountPoint && fileSystem && source
      ? [{ mountPoint: unescaped(mountPoint), fileSystem, source: unescaped(source) }]
      : [];
  });
}

/** The mount that a path lies on. */
const mountOf = (real: string, all: readonly Mount[]): Mount | undefined =>
  all
    .filter(({ mountPoint: at }) => real === at || real.startsWith(at.endsWith('/') ? at : `${at}/`))
    .sort((a, b) => b.mountPoint.length - a.mountPoint.length)[0];

/**
 * Is the drive of a folder still there? Pulled, it may leave the folder that it was mounted on, empty, and what is
 * written there is lost when it is back. True where the system does not tell.
 * @param drive as it was when the folder was last read
 */
export async function isOnItsDrive(path: string, drive: Drive | null): Promise<boolean> {
  if (!drive?.mountPoint || drive.mountPoint === '/') return true;
  const real = await realpath(path).catch(() => null);
  if (real === null) return false;
  const all = await mounts();
  return all.length === 0 || mountOf(real, all)?.mountPoint === drive.mountPoint;
}

/** The name under which a device stands in one of the folders of /dev/disk; null where it does not. */
async function nameOfDevice(folder: 'by-uuid' | 'by-label', source: string): Promise<string | null> {
  const base = join('/dev/disk', folder);
  for (const name of await readdir(base).catch(() => []))
    if (basename(await readlink(join(base, name)).catch(() => '')) === basename(source)) return unescaped(name);
  return null;
}

/** @returns null when the folder cannot be reached */
export async function driveOf(path: string): Promise<Drive | null> {
  const real = await realpath(path).catch(() => null);
  if (real === null) return null;
  const [{ dev }, { blocks, bsize }, all] = await Promise.all([stat(real), statfs(real), mounts()]);
  const mount = mountOf(real, all);
  const source = mount?.source ?? '';
  return {
    device: (source.startsWith('/dev/') && (await nameOfDevice('by-uuid', source))) || source || String(dev),
    mountPoint: mount?.mountPoint ?? null,
    fileSystem: mount?.fileSystem ?? null,
    label: source.startsWith('/dev/') ? await nameOfDevice('by-label', source) : null,
    bytes: blocks * bsize,
  };
}

/** Bytes that may still be written; null where nobody can tell. */
export const freeBytes = (path: string): Promise<number | null> =>
  statfs(path).then(
    ({ bavail, bsize }) => bavail * bsize,
    () => null,
  );
