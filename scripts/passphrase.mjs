/** `npm run passphrase`: sets the passphrase with which one signs in from elsewhere; --remove takes it away. */
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { text } from 'node:stream/consumers';
import { parseArgs } from 'node:util';
import { askHidden } from './lib/ask.mjs';
import { buildServer } from './lib/build.mjs';
import { main, ROOT, say, SetupError } from './lib/run.mjs';
import { dataFolder, setup } from './lib/setup.mjs';

const { remove } = parseArgs({ options: { remove: { type: 'boolean' } } }).values;

/** Typed twice at a terminal; else what comes in is it. */
async function passphrase(whyNot) {
  if (!process.stdin.isTTY) return (await text(process.stdin)).replace(/\r?\n$/, '');
  for (;;) {
    const first = await askHidden('Passphrase: ');
    const why = whyNot(first);
    if (why) console.error(why);
    else if ((await askHidden('Once more:  ')) === first) return first;
    else console.error('These are two different ones.');
  }
}

main(async () => {
  await setup();
  await buildServer();
  const folder = dataFolder();
  mkdirSync(folder, { recursive: true });
  const { forgetPassphrase, keepPassphrase, whyNot } = await import(join(ROOT, 'dist/server/passphraseCommand.mjs'));
  if (remove) {
    await forgetPassphrase(folder);
    say('the passphrase is removed: from the next start on nobody signs in from elsewhere');
    return;
  }
  const chosen = await passphrase(whyNot);
  const why = whyNot(chosen);
  if (why) throw new SetupError(why);
  await keepPassphrase(folder, chosen);
  say('the passphrase is set; it counts from the next start, and whoever was signed in has to sign in again');
});
