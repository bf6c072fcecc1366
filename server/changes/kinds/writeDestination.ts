/** A destination's data put in the place of what is there, and back. */
import { writeDestinationKind, type WriteDestination } from '@early-set/core/changes/kinds/writeDestination';
import type { Database } from '../../db/database.ts';
import { conflict, type Destination } from '../context.ts';
import { serverKind, UNKNOWN_DEVICE, type FileWork } from './kind.ts';

interface Intent {
  destination: Destination;
}

async function destinationOf(database: Database, id: number): Promise<Destination | null> {
  const [row] = await database.rows<Destination>('SELECT id, kind, name, folder FROM destinations WHERE id = $1', [id]);
  return row ?? null;
}

const files: FileWork<WriteDestination, Intent, null> = {
  async prepare({ database }, { item }) {
    const destination = await destinationOf(database, item.destinationId);
    return destination ? { intent: { destination } } : conflict(`${item.name} is no destination any more`);
  },
  async perform({ writeData, step }, { item, trackId }, { destination }) {
    await writeData(destination, item, step ? (at) => step(at, trackId) : undefined);
    return null;
  },
  settle: ({ database }, { item: { destinationId, after } }, _intent, _made, t) =>
    database.run(
      'UPDATE destinations SET synced = $2, synced_at = CASE WHEN $2::uuid IS NULL THEN NULL ELSE now() END WHERE id = $1',
      [destinationId, after.past],
      t,
    ),
  // Whatever was under way is begun again: writing sees what is there already.
  recover: () => Promise.resolve({ made: null, said: null }),
  weigh: () => ({ bytes: 0, devices: [UNKNOWN_DEVICE] }),
};

export const writeDestinationStored = serverKind<WriteDestination, Intent, null>({
  kind: writeDestinationKind.kind,
  tells: 'destinations',
  changes: () => [],
  wants: () => undefined,
  files,
});
