/** Three computers on this one: network namespaces of Linux, joined by cables, where this user may make them. */
import { spawnSync } from 'node:child_process';
import { chmodSync, writeFileSync } from 'node:fs';

const ip = (...args: string[]): boolean => spawnSync('ip', args).status === 0;

/** What a command is begun with so that it runs on one of them. */
export const on = (name: string): string[] => ['ip', 'netns', 'exec', name];

/**
 * A computer with a cable to each of two others. They reach it, and not each other.
 * @returns its address on each cable, and what takes all of it away; null where that cannot be had
 */
export function threeComputers(
  middle: string,
  left: string,
  right: string,
): { addresses: [string, string]; remove: () => void } | null {
  const remove = (): void => {
    for (const name of [middle, left, right]) ip('netns', 'del', name);
  };
  remove(); // left by a run that was killed
  const cable = (other: string, net: number): boolean =>
    ip('link', 'add', `es${net}a`, 'netns', middle, 'type', 'veth', 'peer', 'name', `es${net}b`, 'netns', other) &&
    ip('-n', middle, 'addr', 'add', `10.98.${net}.1/24`, 'dev', `es${net}a`) &&
    ip('-n', other, 'addr', 'add', `10.98.${net}.2/24`, 'dev', `es${net}b`) &&
    ip('-n', middle, 'link', 'set', `es${net}a`, 'up') &&
    ip('-n', other, 'link', 'set', `es${net}b`, 'up');
  const made =
    [middle, left, right].every((name) => ip('netns', 'add', name) && ip('-n', name, 'link', 'set', 'lo', 'up')) &&
    cable(left, 1) &&
    cable(right, 2);
  if (made) return { addresses: ['10.98.1.1', '10.98.2.1'], remove };
  remove();
  return null;
}

/** A program that starts the browser on one of them. */
export function browserOn(name: string, path: string): string {
  writeFileSync(path, `#!/bin/sh\nexec ${on(name).join(' ')} /usr/bin/chromium "$@"\n`);
  chmodSync(path, 0o755);
  return path;
}
