/** `node dist/standins/turnstone.mjs check|take|play --data D`: see README.md. */
import { parseArgs } from 'node:util';
import { offered, play, take } from './stock.ts';

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { data: { type: 'string' }, log: { type: 'string' } },
});
const data = values.data ?? '.';
const say = (said: { refused: string[] }): void => {
  console.log(JSON.stringify(said));
  process.exitCode = said.refused.length > 0 ? 1 : 0;
};

switch (positionals[0]) {
  case 'check': {
    const { items, refused } = offered(data);
    say({ refused, ...{ tracks: items.length } });
    break;
  }
  case 'take':
    say(take(data));
    break;
  case 'play':
    say(play(data, values.log ?? ''));
    break;
  default:
    console.error('usage: turnstone check|take|play --data D [--log NAME]');
    process.exitCode = 2;
}
