/** Work on files, one after the other on each drive: disks like it, and what is asked for first is done first. */
export interface DriveQueue {
  /** Runs when what was asked for before on this drive has ended. */
  add<T>(device: string, work: () => Promise<T>): Promise<T>;
}

/** A piece that fails does not hold up the next. */
export function createDriveQueue(): DriveQueue {
  const last = new Map<string, Promise<unknown>>();
  return {
    add(device, work) {
      const own = (last.get(device) ?? Promise.resolve()).then(work);
      const ended = own.catch(() => undefined);
      last.set(device, ended);
      void ended.then(() => {
        if (last.get(device) === ended) last.delete(device);
      });
      return own;
    },
  };
}
