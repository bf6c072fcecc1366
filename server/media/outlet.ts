/**
 * What a program prints, read into one buffer that is used again for each piece. A pipe of child_process would allocate
 * for each of them, which costs more than reading; a socket that is opened by hand reads where it is told.
 */
import { mkdtemp, rm } from 'node:fs/promises';
import { connect, createServer, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const ROOM = 1 << 18;

export interface Outlet {
  /** To be given to the program as its output, and to be destroyed here once the program has it. */
  readonly writer: Socket;
  /** Resolves when everything has been read; rejects with what `take` threw. */
  readonly ended: Promise<void>;
}

/**
 * Opens one. `take` gets each piece and says how many of its bytes it has used; the rest comes again with what follows.
 * A piece begins at a multiple of 8 bytes and is valid during the call only.
 */
export async function openOutlet(take: (piece: Uint8Array) => number): Promise<Outlet> {
  const folder = await mkdtemp(join(tmpdir(), 'early-set-'));
  const path = join(folder, 'sound');
  const server = createServer({ pauseOnConnect: true });
  try {
    await new Promise<void>((resolve, reject) => {
      server.on('error', reject).listen(path, resolve);
    });
    const accepted = new Promise<Socket>((resolve) => {
      server.once('connection', resolve);
    });
    const buffer = new Uint8Array(ROOM);
    let left = 0;
    let trouble: unknown = null;
    const reader = connect({
      path,
      onread: {
        buffer: () => buffer.subarray(left),
        callback(count) {
          if (trouble !== null) return true;
          const filled = left + count;
          try {
            const used = take(buffer.subarray(0, filled));
            if (used > 0) buffer.copyWithin(0, used, filled);
            left = filled - used;
          } catch (error) {
            trouble = error;
            reader.destroy();
          }
          return true;
        },
      },
    });
    const ended = new Promise<void>((resolve, reject) => {
      reader.on('error', reject);
      reader.on('close', () => {
        if (trouble === null) resolve();
        else reject(trouble as Error);
      });
    });
    ended.catch(() => undefined);
    return { writer: await accepted, ended };
  } finally {
    server.close();
    await rm(folder, { recursive: true, force: true });
  }
}
