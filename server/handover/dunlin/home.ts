/** Dunlin keeps its data in one folder and its pictures in another, with a lock file beside them while it is open. */
import type { Home } from '../home.ts';

export const dunlin: Home = {
  data: 'data',
  mark: 'tracks.csv',
  lock: 'dunlin.lock',
  covers: 'covers',
  isText: (name) => name === 'tracks.csv' || name === 'crates.jsonl',
};
