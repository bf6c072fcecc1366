/** Measuring as users run it: whole processes with their start, on one processor, beside ffmpeg; and what they hold. */
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { table } from '../table.ts';

interface Took {
  /** Seconds by the clock, and of the processor, of a program and all that it starts. */
  wall: number;
  processor: number;
}

/**
 * Runs a program on one processor. The quicker of `RUNS` counts.
 * @param lines so many files it says to have measured
 */
function took(command: readonly string[], lines = 0): Took {
  const runs = Array.from({ length: RUNS }, (): Took => {
    const done = spawnSync(
      'bash',
      ['-c', 'TIMEFORMAT="%R %U %S"; time taskset -c 0 "$@" 2>/dev/null', 'bash', ...command],
      { encoding: 'utf8', maxBuffer: 1 << 28 },
    );
    const right = done.stdout.split('"ok":true').length - 1 === lines;
    if (done.status !== 0 || !right) throw new Error(`${command.join(' ')}: ${done.stderr}`);
    const [wall, user, system] = done.stderr.trim().split('\n').at(-1)!.split(' ').map(Number);
    return { wall: wall!, processor: user! + system! };
  });
  return { wall: Math.min(...runs.map((r) => r.wall)), processor: Math.min(...runs.map((r) => r.processor)) };
}
const RUNS = 2;

/** The first minute of each, its packets as they are. */
function cut(files: readonly string[], count: number): string[] {
  return Array.from({ length: count }, (_, i) => {
    const source = files[i % files.length]!,
      ending = source.slice(source.lastIndexOf('.'));
    const short = join(source, '..', `minute-${i}${ending}`);
    if (!existsSync(short)) {
      const from = String(Math.floor(i / files.length) * 60);
      const args = ['-v', 'error', '-y', '-ss', from, '-t', '60', '-i', source, '-map', '0:a:0', '-c', 'copy', short];
      if (spawnSync('ffmpeg', args).status !== 0) throw new Error(`${short} could not be made`);
    }
    return short;
  });
}

const PROGRAM = join(process.env.BENCH_THREADS!, '../../bin/early-set');

/** One file so often that it lasts as long, its packets as they are. */
function lasting(source: string, minutes: number): string {
  const long = join(source, '..', `minutes-${minutes}.mp3`);
  const times = String(minutes / 5 - 1);
  const args = ['-v', 'error', '-y', '-stream_loop', times, '-i', source, '-map', '0:a:0', '-c', 'copy', long];
  if (!existsSync(long) && spawnSync('ffmpeg', args).status !== 0) throw new Error(`${long} could not be made`);
  return long;
}

/** The most that the process holds while it measures a file, in bytes, as Linux says; ffmpeg is another process. */
async function mostHeld(file: string): Promise<number> {
  const child = spawn(process.execPath, [PROGRAM, 'measure', '--jobs', '1', file], { stdio: 'ignore' });
  let most = 0;
  const look = setInterval(() => {
    try {
      const status = readFileSync(`/proc/${child.pid!}/status`, 'utf8');
      most = Math.max(most, 1024 * Number(/VmHWM:\s+(\d+)/.exec(status)?.[1] ?? 0));
    } catch {
      // It has just ended.
    }
  }, 20);
  const code = await new Promise((resolve) => child.on('close', resolve));
  clearInterval(look);
  if (code !== 0) throw new Error(`${file} could not be measured`);
  return most;
}

/** @param track a file of five minutes */
export async function memoryTable(track: string): Promise<void> {
  console.log('\nMemory of the whole process at its height (`early-set measure`)\n');
  const rows: string[][] = [];
  for (const minutes of [5, 120])
    rows.push([
      `an MP3 of ${minutes} minutes`,
      `${((await mostHeld(lasting(track, minutes))) / 2 ** 20).toFixed(0)} MB`,
    ]);
  table(['', 'most'], rows);
}

/** @param tracks files of five minutes in a format */
export function asRunTable(tracks: (ending: string) => string[]): void {
  const cases: [string, string[], number][] = [
    ['one MP3 of 5 minutes', tracks('mp3').slice(0, 1), 300],
    ...(['mp3', 'flac', 'm4a', 'wav'] as const).map((ending): [string, string[], number] => {
      const files = tracks(ending);
      return [`${files.length} ${ending.toUpperCase()} of 5 minutes`, files, 300];
    }),
    ['20 MP3 of 1 minute', cut(tracks('mp3'), 20), 60],
  ];
  const rows = cases.map(([name, files, seconds]) => {
    const ours = took([process.execPath, PROGRAM, 'measure', '--jobs', '1', ...files], files.length);
    const alone = files.map((f) =>
      took(['ffmpeg', '-v', 'error', '-nostdin', '-i', f, '-map', '0:a:0', '-f', 'f32le', '-y', '/dev/null']),
    );
    const decoding = alone.reduce((sum, a) => sum + a.processor, 0);
    const sound = files.length * seconds;
    return {
      name,
      speed: sound / ours.wall,
      cells: [sound / ours.processor, sound / decoding],
      ratio: ours.processor / decoding,
    };
  });
  const times = (n: number): string => `${n.toFixed(0)} ×`;
  console.log(
    '\nAs users run it (`early-set measure`, one file at a time), whole processes with their start, on one processor\n',
  );
  table(
    ['', 'by the clock', 'processor', 'ffmpeg alone, processor', 'all ÷ ffmpeg'],
    rows.map(({ name, speed, cells, ratio }) => [name, times(speed), ...cells.map(times), ratio.toFixed(1)]),
  );
  const long = rows.find((r) => r.name.startsWith('4 MP3'))!,
    short = rows.at(-1)!;
  console.log(
    `files of a minute against long ones, for each second of sound: ${((100 * short.speed) / long.speed).toFixed(0)} %`,
  );
}
