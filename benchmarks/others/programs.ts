/** Programs of others that the benchmark's material is made with. */
import { spawnSync } from 'node:child_process';

/** Runs a program to its end. @throws Error where it is missing or fails */
export function runProgram(program: string, args: readonly string[]): void {
  const { status, stderr, stdout, error } = spawnSync(program, args, { encoding: 'utf8' });
  if (error) throw new Error(`${program} cannot be run: ${error.message}`);
  if (status !== 0) throw new Error(`${program} ended with ${status}: ${stderr}${stdout}`);
}
