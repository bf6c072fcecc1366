/** Files that are no music into quarantine and back; empty folders removed and made again. */
import { putAsideKind, type PutAside } from '@early-set/core/changes/kinds/putAside';
import { realpath } from 'node:fs/promises';
import type { Database } from '../../db/database.ts';
import type { Placed, Placing } from '../../files/place.ts';
import { absolutePath } from '../../library/absolutePath.ts';
import { conflict } from '../context.ts';
import { deviceOf, serverKind, type FileWork } from './kind.ts';

type Intent = { file: Omit<Placing, 'begun'> } | { folder: string };

const isThere = async (database: Database, text: string, values: unknown[]): Promise<boolean> =>
  (await database.rows(`SELECT 1 FROM ${text}`, values)).length > 0;

const files: FileWork<PutAside, Intent, Placed | null> = {
  async prepare({ database }, { item }) {
    const { what, mode, id, before, after, size, modifiedMs } = item;
    const from = [before.rootId, before.path];
    if (await isThere(database, 'track_files WHERE root_id = $1 AND path = $2', from))
      return conflict('This is music of the library by now');
    if (what === 'file' && mode === 'restore' && !(await isThere(database, 'put_aside WHERE id = $1', [id])))
      return conflict('It has been deleted from quarantine');
    const to = await absolutePath(database, after);
    if (what === 'folder') return { intent: { folder: to } };
    const [root] = await database.rows<{ path: string }>('SELECT path FROM roots WHERE id = $1', [before.rootId]);
    const below = mode === 'retire' ? { below: await realpath(root!.path) } : {};
    return {
      intent: { file: { mode: 'move', from: await absolutePath(database, before), to, size, modifiedMs, ...below } },
    };
  },
  perform({ files: pool, step }, { item, trackId }, intent, { begun, signal, progress }) {
    if ('folder' in intent)
      return pool.ask({ op: 'folder', path: intent.folder, make: item.mode === 'restore' }).then(() => null);
    return pool.ask(
      { op: 'place', ...intent.file, begun },
      { signal, progress, ...(step ? { step: (at) => step(at, trackId) } : {}) },
    );
  },
  async settle({ database }, { item: { what, mode, id, before, after, size, modifiedMs, reason } }, _intent, _made, t) {
    const [root, was] = [before.rootId, mode === 'retire' ? before.path : after.path];
    const run = (text: string, values: unknown[]): Promise<void> => database.run(text, values, t);
    if (what === 'folder' && mode === 'retire')
      await run('DELETE FROM empty_folders WHERE root_id = $1 AND path = $2', [root, was]);
    else if (what === 'folder')
      await run('INSERT INTO empty_folders (root_id, path) VALUES ($1, $2) ON CONFLICT DO NOTHING', [root, was]);
    else if (mode === 'retire') {
      await run('DELETE FROM not_taken WHERE root_id = $1 AND path = $2', [root, was]);
      await run(
        `INSERT INTO put_aside (id, root_id, path, was, size, modified_ms, reason) VALUES ($1, $2, $3, $4, $5, $6, $7)
          ON CONFLICT (id) DO UPDATE SET path = excluded.path, was = excluded.was`,
        [id, root, after.path, was, size, modifiedMs, reason],
      );
    } else {
      await run('DELETE FROM put_aside WHERE id = $1', [id]);
      await run(
        `INSERT INTO not_taken (root_id, path, code, reason, file_size, file_modified_ms)
          VALUES ($1, $2, 'not-music', $3, $4, $5) ON CONFLICT DO NOTHING`,
        [root, was, reason, size, modifiedMs],
      );
    }
  },
  // Whatever was under way is begun again: placing sees what is there already.
  recover: () => Promise.resolve({ made: null, said: null }),
  weigh: ({ before }, snapshot) => ({ bytes: 0, devices: [deviceOf(snapshot, before.rootId)] }),
};

export const putAsideStored = serverKind<PutAside, Intent, Placed | null>({
  kind: putAsideKind.kind,
  tells: 'tracks',
  changes: () => [],
  wants({ before, after }, wants) {
    wants.places.push(before, after);
  },
  files,
});
