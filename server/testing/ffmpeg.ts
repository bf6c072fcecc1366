/** Files of sound made for tests and benchmarks by ffmpeg. */
import { spawnSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { dirname } from 'node:path';

/** Runs ffmpeg; what is there is overwritten. @throws Error with what it said */
export function ffmpeg(...args: string[]): void {
  const { status, stderr } = spawnSync('ffmpeg', ['-v', 'error', '-nostdin', '-y', ...args], { encoding: 'utf8' });
  if (status !== 0) throw new Error(`ffmpeg ${args.join(' ')}: ${stderr}`);
}

/** A file from one of ffmpeg's sources (`sine=…`, `aevalsrc=…`); its ending decides the format. */
export function synthesize(path: string, source: string, ...args: string[]): void {
  mkdirSync(dirname(path), { recursive: true });
  ffmpeg('-f', 'lavfi', '-i', source, ...args, path);
}

/** Tags as ffmpeg's arguments. */
export const asMetadata = (tags: Record<string, string>): string[] =>
  Object.entries(tags).flatMap(([name, value]) => ['-metadata', `${name}=${value}`]);
