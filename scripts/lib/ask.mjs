import { createInterface } from 'node:readline/promises';

/** Asks on the terminal; no input at all counts as no. */
export async function ask(question) {
  const lines = createInterface({ input: process.stdin, output: process.stdout });
  const closed = new Promise((resolve) => lines.once('close', () => resolve('')));
  const answer = await Promise.race([lines.question(question), closed]);
  lines.close();
  return answer;
}

/** Asks on the terminal without showing what is typed; Ctrl-C ends the command. */
export async function askHidden(question) {
  process.stdout.write(question);
  const { stdin } = process;
  stdin.setRawMode(true);
  stdin.setEncoding('utf8');
  let typed = '';
  try {
    for await (const piece of stdin.iterator({ destroyOnReturn: false }))
      for (const key of piece) {
        if (key === '\u0003') process.exit(130);
        if (key === '\r' || key === '\n') return typed;
        if (key === '\u007f' || key === '\b') typed = [...typed].slice(0, -1).join('');
        else if (key >= ' ') typed += key;
      }
    return typed;
  } finally {
    stdin.setRawMode(false);
    process.stdout.write('\n');
  }
}
