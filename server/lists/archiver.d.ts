/** What is used of archiver (MIT), which has no types of its own for this version. */
declare module 'archiver' {
  import type { Readable } from 'node:stream';
  export class ZipArchive extends Readable {
    constructor(options?: { zlib?: { level: number } });
    append(content: Buffer | string | Readable, entry: { name: string; store?: boolean }): this;
    finalize(): Promise<void>;
    abort(): this;
  }
}
