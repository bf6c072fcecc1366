/** The scripts behind the npm commands, run as a person would. */
import { spawn, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { settled } from './app.ts';

const SCRIPTS = join(import.meta.dirname, '../scripts');

export interface Script {
  process: ChildProcess;
  said: () => string;
  ended: Promise<number | null>;
  hears: (words: string) => Promise<void>;
}

/** Starts one of the scripts on a data folder; `input` is what is typed at it. */
export function script(name: string, folder: string, input = ''): Script {
  const child = spawn(process.execPath, [join(SCRIPTS, name)], {
    env: { ...process.env, EARLY_SET_DATA: folder, EARLY_SET_LOG: 'silent' },
    stdio: ['pipe', 'pipe', 'pipe'],
  });
  let text = '';
  child.stdout.on('data', (chunk: Buffer) => {
    text += chunk.toString();
  });
  child.stderr.on('data', (chunk: Buffer) => {
    text += chunk.toString();
  });
  child.stdin.end(input);
  const ended = new Promise<number | null>((resolve) => {
    child.once('close', resolve);
  });
  return {
    process: child,
    said: () => text,
    ended,
    hears: (words) =>
      settled(
        async () => text,
        (t) => t.includes(words),
      ).then(() => undefined),
  };
}
