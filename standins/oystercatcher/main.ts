/** `node dist/standins/oystercatcher.mjs show|check --data D`: see README.md. */
import { parseArgs } from 'node:util';
import { readStick } from './stick.ts';

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { data: { type: 'string' }, as: { type: 'string' } },
});
const stick = (): ReturnType<typeof readStick> => readStick(values.data ?? '.');

switch (positionals[0]) {
  case 'show': {
    const { folders, lists } = stick();
    console.log(JSON.stringify({ folders, lists }));
    break;
  }
  case 'check': {
    const { folders, lists, refused } = stick();
    const tracks = folders.reduce((n, f) => n + f.shows.length, 0);
    console.log(JSON.stringify({ tracks, lists: lists.length, refused }));
    process.exitCode = refused.length > 0 ? 1 : 0;
    break;
  }
  default:
    console.error('usage: oystercatcher show|check --data D');
    process.exitCode = 2;
}
