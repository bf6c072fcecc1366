/** Files of the copy of the music into its quarantine and back. */
import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { removeCopiedKind, type RemoveCopied } from '@early-set/core/changes/kinds/removeCopied';
import { Problem } from '../../base/problem.ts';
import type { Placed, Placing } from '../../files/place.ts';
import { copiedFile, noteState } from '../../copied/copiedFiles.ts';
import { asidePath, placeOf } from '../../copied/places.ts';
import { conflict } from '../context.ts';
import { serverKind, UNKNOWN_DEVICE, type FileWork } from './kind.ts';

type Intent = Omit<Placing, 'begun'>;

const files: FileWork<RemoveCopied, Intent, Placed> = {
  async prepare({ database }, { item: { id, mode, rootId, root } }) {
    const row = await copiedFile(database, id);
    if (!row) return conflict('It is not on the copy any more');
    if (row.state !== (mode === 'remove' ? 'gone' : 'aside'))
      return conflict(mode === 'remove' ? 'The folder here has it again' : 'It has been put back already');
    try {
      const folder = await placeOf({ id: rootId, label: root });
      const [lies, aside] = [join(folder, row.path), join(folder, asidePath(row))];
      const [from, to] = mode === 'remove' ? [lies, aside] : [aside, lies];
      const { size, modifiedMs } = row;
      const lying = await stat(from).catch(() => null);
      if (lying?.size !== size)
        return conflict(lying ? 'It was changed on the copy since' : 'It is not on the copy any more');
      return { intent: { mode: 'move', from, to, size, modifiedMs, ...(mode === 'remove' ? { below: folder } : {}) } };
    } catch (error) {
      if (error instanceof Problem) return conflict(error.message);
      throw error;
    }
  },
  perform: ({ files: pool, step }, { trackId }, intent, { begun, signal, progress }) =>
    pool.ask(
      { op: 'place', ...intent, begun },
      { signal, progress, ...(step ? { step: (at) => step(at, trackId) } : {}) },
    ),
  settle: ({ database }, { item: { id, mode } }, _intent, _made, t) =>
    noteState(database, [id], mode === 'remove' ? 'aside' : 'gone', t),
  // Whatever was under way is begun again: placing sees what is there already.
  recover: () => Promise.resolve({ made: null, said: null }),
  weigh: () => ({ bytes: 0, devices: [UNKNOWN_DEVICE] }),
};

export const removeCopiedStored = serverKind<RemoveCopied, Intent, Placed>({
  kind: removeCopiedKind.kind,
  tells: 'destinations',
  changes: () => [],
  wants: () => undefined,
  files,
});
