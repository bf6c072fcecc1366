/** Work that is done one piece after the other, in the order in which it was asked for. */
export type InTurn = <T>(work: () => Promise<T>) => Promise<T>;

/**
 * Edits and their taking back go through one such line from reading what is there to the last file: whoever presses
 * Ctrl Z twice, or types the next value while the former is being written, gets both, in that order.
 * A piece that fails does not hold up the next.
 */
export function oneAfterAnother(): InTurn {
  let last: Promise<unknown> = Promise.resolve();
  return (work) => {
    const own = last.then(work);
    last = own.catch(() => undefined);
    return own;
  };
}
