import { spawn, spawnSync } from 'node:child_process';

/** The project's folder. */
export const ROOT = new URL('../..', import.meta.url).pathname.replace(/\/$/, '');

/** Runs a program to its end with its output shown; rejects when it fails. */
export function run(command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd: ROOT, stdio: 'inherit', ...options });
    child.on('error', reject);
    child.on('close', (code, signal) =>
      code === 0
        ? resolve()
        : reject(new Error(`${command} ${args.slice(0, 3).join(' ')} ended with ${signal ?? code}`)),
    );
  });
}

/** Runs a program quietly; returns its status and what it printed. */
export function quiet(command, args, options = {}) {
  const result = spawnSync(command, args, { cwd: ROOT, encoding: 'utf8', ...options });
  return {
    ok: result.status === 0,
    status: result.status,
    out: result.stdout ?? '',
    err: result.stderr ?? String(result.error ?? ''),
  };
}

/** Prints a step of the set-up. */
export const say = (text) => console.log(`· ${text}`);

/** Ends the program with a plain sentence. */
export class SetupError extends Error {}

/** Runs a script's main function; a SetupError is shown as its sentence only. What was begun is cleaned up first. */
export function main(action, cleanUp = () => {}) {
  action().catch((error) => {
    cleanUp();
    console.error(error instanceof SetupError ? error.message : (error.stack ?? error));
    process.exit(1);
  });
}
