/** Kept data written to where a program looks for them. */
import { Problem } from '../base/problem.ts';
import type { WriteData } from '../changes/context.ts';
import { checkedBy } from './checker.ts';
import { dataFolderOf, hashOf, leftoversGone, locked, replaceData } from './data.ts';
import { programFor } from './programs.ts';
import { reasonOf } from '../files/reasons.ts';
import type { States } from './states.ts';

const changedSince = (name: string): Problem =>
  new Problem(409, 'changed-since', `${name} has been changed since: compare again`);

/** Whatever the drive has against it is said of the program whose data they are. */
async function saidOf(name: string, work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch (error) {
    if (!isSystemError(error)) throw error;
    throw new Problem(409, 'not-written', `${name} was left as it was. ${reasonOf(error)}`);
  }
}
const isSystemError = (error: unknown): boolean => typeof (error as NodeJS.ErrnoException).syscall === 'string';

/**
 * Puts the state `after` in the place of `before`. What stands there already is done.
 * @throws Problem where the program is open, or its data are neither
 */
export const writeKept =
  (states: States): WriteData =>
  async ({ id, kind, name, folder }, { before, after }, step) => {
    const { home, format } = programFor(kind);
    await locked(folder, home, name, async () => {
      await saidOf(name, () => leftoversGone(folder, home));
      const data = dataFolderOf(folder, home, name);
      const now = await hashOf(data, home);
      if (now === after.hash) return;
      if (now !== before.hash) throw changedSince(name);
      const kept = states.dataOf(id, after.data);
      if (kept === null) throw new Problem(409, 'not-kept', `The former data of ${name} are no longer kept`);
      const parts: Parameters<typeof replaceData>[3] = {
        step,
        async check(staged) {
          if ((await hashOf(staged, home)) !== after.hash)
            throw new Problem(409, 'torn', `What was written for ${name} is not whole; nothing there was changed`);
          await checkedBy(kind, format.describe.name, staged, data);
        },
        // Whoever writes there without minding the lock may do so until the very moment of the exchange.
        async checkFormer(former) {
          if ((await hashOf(former, home)) !== before.hash) throw changedSince(name);
        },
      };
      await saidOf(name, () => replaceData(folder, home, kept, parts));
    });
  };
