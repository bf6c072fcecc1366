/** A plan of a stick brought there, and the former one again. */
import { writeStickKind, type WriteStick } from '@early-set/core/changes/kinds/writeStick';
import { noteGiven } from '../../library/trackFiles.ts';
import { conflict } from '../context.ts';
import { serverKind, UNKNOWN_DEVICE, type FileWork } from './kind.ts';

interface Made {
  /** Ids of tracks whose files are there now. */
  given: number[];
}

const files: FileWork<WriteStick, object, Made> = {
  async prepare({ database }, { item }) {
    const rows = await database.rows('SELECT 1 FROM sticks WHERE id = $1', [item.stickId]);
    return rows.length > 0 ? { intent: {} } : conflict(`${item.name} is no longer written to`);
  },
  perform: ({ writeStickFiles, step }, { item, trackId }, _intent, { signal, progress }) =>
    writeStickFiles(item.stickId, item.after, {
      ...{ signal, progress },
      ...(step ? { step: (at) => step(at, trackId) } : {}),
    }),
  async settle({ database }, { item: { stickId, after, name } }, _intent, { given }, t) {
    await database.run(
      `UPDATE sticks SET written = $2, aimed = $2, waiting = NULL,
        written_at = CASE WHEN $2::uuid IS NULL THEN NULL ELSE now() END WHERE id = $1`,
      [stickId, after],
      t,
    );
    if (after !== null) await noteGiven(database, given, name, null, t);
  },
  // Whatever was under way is begun again: writing sees what is there already.
  recover: () => Promise.resolve({ made: null, said: null }),
  // Always a run, however small: there is something to watch and to cancel.
  weigh: ({ bytes }) => ({ bytes: Infinity, copied: Math.max(1, bytes), devices: [UNKNOWN_DEVICE] }),
};

export const writeStickStored = serverKind<WriteStick, object, Made>({
  kind: writeStickKind.kind,
  tells: 'destinations',
  changes: () => [],
  wants: () => undefined,
  files,
});
