/** Dunlin keeps its data in one folder, its covers among them, with a lock file beside it while it is open. */
import type { Home } from '../home.ts';

export const dunlin: Home = {
  data: 'data',
  mark: 'tracks.csv',
  lock: 'dunlin.lock',
  isText: (name) => name === 'tracks.csv' || name === 'crates.jsonl',
};
