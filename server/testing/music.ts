/** Files for tests that sound something like music: tones that change, attacks that differ, louder and quieter. */
import { spawnSync } from 'node:child_process';

/** @param seed makes another piece */
export function playLike(path: string, seed: number, seconds: number, args: readonly string[] = []): void {
  const level = `(0.15+0.5*abs(sin(t*${0.31 + seed / 10})*sin(t*0.083+${seed})))`;
  const tone =
    `sin(2*PI*t*(110*pow(2,floor(mod(t*1.9+${seed},12))/12)))` +
    `+0.4*sin(2*PI*t*(1760+40*floor(mod(t*${seed + 1},9))))`;
  const attack = `exp(-4*mod(t*${(1.7 + seed / 7).toFixed(3)},1))`;
  const source = `aevalsrc='0.6*${level}*${attack}*(${tone})':s=44100:d=${seconds}`;
  const made = spawnSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', source, ...args, path], {
    encoding: 'utf8',
  });
  if (made.status !== 0) throw new Error(made.stderr);
}
