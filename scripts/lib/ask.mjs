import { createInterface } from 'node:readline/promises';

/** Asks on the terminal; no input at all counts as no. */
export async function ask(question) {
  const lines = createInterface({ input: process.stdin, output: process.stdout });
  const closed = new Promise((resolve) => lines.once('close', () => resolve('')));
  const answer = await Promise.race([lines.question(question), closed]);
  lines.close();
  return answer;
}
