/** Plover keeps its data in one folder, with a lock file beside it while it is open. */
import type { Home } from '../home.ts';

export const plover: Home = {
  data: 'collection',
  mark: 'tracks.jsonl',
  lock: 'plover.lock',
  covers: null,
  isText: (name) => name === 'tracks.jsonl' || /^lists\/.*\.xspf$/i.test(name),
};
