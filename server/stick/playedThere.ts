/** What a playout system has played, read from its folder. */
import type { PlayedRead } from '@early-set/core/api/stick';
import { Problem } from '../base/problem.ts';
import { readPlayed } from '../playout/played.ts';
import type { Sticks } from './plan.ts';
import { playerOf, stickOf } from './sticks.ts';

/** @param all what has been read before too @throws Problem where it is not there, or plays nothing */
export async function readPlayedThere(
  { database, changing, steps }: Pick<Sticks, 'database' | 'changing' | 'steps'>,
  id: number,
  all: boolean,
  gone?: AbortSignal,
): Promise<PlayedRead> {
  const { folder, name, player, played, trouble } = await stickOf(database, id);
  const { playout } = playerOf(player);
  if (!playout) throw new Problem(400, 'no-playout', `${name} is no playout system`);
  if (trouble) throw new Problem(409, 'not-there', trouble);
  const goesOn = (done: number, total: number): boolean => {
    steps.set(id, { done, total });
    return !gone?.aborted;
  };
  const { said, read } = await readPlayed(changing, folder, playout, played, all, goesOn).finally(() =>
    steps.delete(id),
  );
  await database.run('UPDATE sticks SET played = $2::jsonb WHERE id = $1', [id, JSON.stringify(read)]);
  await database.notify({ kind: 'destinations' });
  return said;
}
