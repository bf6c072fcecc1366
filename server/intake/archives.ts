/**
 * Zip archives in library folders: looked into, and unpacked beside themselves. Files are unpacked aside, each checked
 * by size and checksum, and become visible together by one rename: killed in between, nothing is there, and the next
 * try begins anew. The archive itself is left as it is.
 */
import { createWriteStream } from 'node:fs';
import { open, rename, rm, utimes } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { crc32 } from 'node:zlib';
import { getFileNameLowLevel, openPromise, type Entry, type ZipFile } from 'yauzl';
import type { ArchiveListing, UnpackReport } from '@early-set/core/api/intake';
import type { FileRef } from '@early-set/core/files/fileRef';
import { folderOf, safeFileName } from '@early-set/core/files/paths';
import type { Database } from '../db/database.ts';
import { Root } from '../db/models.ts';
import { freeBytes } from '../drives/drives.ts';
import { makeFolder } from '../files/makeFolder.ts';
import { mustBeThere } from '../library/absolutePath.ts';
import { isThere } from '../files/there.ts';
import { reasonOf } from '../files/reasons.ts';
import { againTitle, defineRun, type DefinedRun } from '../jobs/defineRun.ts';
import type { Queue } from '../jobs/queue.ts';
import { resolveForWriting, resolveInRoot } from '../media/roots.ts';
import { notFound, Problem } from '../base/problem.ts';
import { judgeEntries, type JudgedEntry, type PackedFile } from './archiveEntries.ts';
import { destination, queueScan, type ScanRun } from './scans.ts';

const MAX_TRIES = 1000;
const S_IFMT = 0o170000,
  S_IFREG = 0o100000;
const STORED = 0,
  DEFLATED = 8;

interface OpenArchive {
  zip: ZipFile;
  packed: { entry: Entry; file: PackedFile }[];
}

/** @throws Problem when it is not a whole zip archive */
async function openArchive(path: string): Promise<OpenArchive> {
  let zip: ZipFile | null = null;
  try {
    zip = await openPromise(path, {
      lazyEntries: true,
      decodeStrings: false,
      validateEntrySizes: true,
      autoClose: false,
    });
    const packed: OpenArchive['packed'] = [];
    for await (const entry of zip.eachEntry()) packed.push({ entry, file: fileOf(entry) });
    return { zip, packed };
  } catch (error) {
    zip?.close();
    const name = path.slice(path.lastIndexOf('/') + 1);
    if ((error as NodeJS.ErrnoException).code) throw new Problem(409, 'unreadable', `${name}: ${reasonOf(error)}`);
    throw new Problem(415, 'broken', `${name} is broken, or no zip archive`);
  }
}

function fileOf(entry: Entry): PackedFile {
  const mode = (entry.externalFileAttributes >>> 16) & S_IFMT;
  // Made on a system that has no such modes, it is a plain file.
  const unix = entry.versionMadeBy >>> 8 === 3;
  return {
    name: getFileNameLowLevel(entry.generalPurposeBitFlag, entry.fileNameRaw, entry.extraFields, false),
    size: entry.uncompressedSize,
    packedSize: entry.compressedSize,
    encrypted: entry.isEncrypted(),
    special: unix && mode !== 0 && mode !== S_IFREG && !/\/$/.test(entry.fileNameRaw.toString('latin1')),
    readable: [STORED, DEFLATED].includes(entry.compressionMethod),
  };
}

/** Where an archive is unpacked: in a folder of its own name, beside itself or in a chosen folder. */
function placeFor(path: string, into: string = folderOf(path)): string[] {
  const folder = into.split('/').filter(Boolean);
  if (folder.some((name) => name.startsWith('.')))
    throw new Problem(400, 'bad-value', `${into} is no folder for music`);
  const name = path.slice(path.lastIndexOf('/') + 1).replace(/\.zip$/i, '');
  return [...folder, safeFileName(name, 'archive')];
}

/** @throws Problem where an archive cannot be unpacked into a folder */
export async function placeToUnpack(root: Root, path: string, into: string): Promise<void> {
  if (root.purpose !== 'library') throw destination(root);
  await mustBeThere(root);
  await resolveForWriting(root.path, placeFor(path, into));
}

async function archiveIn(root: Root, path: string): Promise<string> {
  if (!/\.zip$/i.test(path)) throw new Problem(400, 'bad-value', `${path} is no zip archive`);
  if (path.split('/').some((part) => part.startsWith('.'))) throw notFound('The archive');
  return resolveInRoot(root.path, path);
}

/** What an archive holds, and what of it would be unpacked. */
export async function lookInto(root: Root, path: string): Promise<ArchiveListing> {
  const { zip, packed } = await openArchive(await archiveIn(root, path));
  zip.close();
  const { entries, trouble } = judgeEntries(packed.map((p) => p.file));
  const wanted = entries.filter((e) => e.segments);
  return {
    entries: entries.map(({ name, size, why }) => ({ name, size, why })),
    files: wanted.length,
    bytes: wanted.reduce((sum, e) => sum + e.size, 0),
    into: placeFor(path).join('/'),
    trouble,
  };
}

interface OfArchive {
  rootId: number;
  path: string;
  /** The folder into which it is unpacked; left out, the one in which it lies. */
  into?: FileRef;
}
export type UnpackRun = DefinedRun<OfArchive>;

export function unpackRun(tools: { database: Database; queue: Queue }, scans: ScanRun): UnpackRun {
  return defineRun<OfArchive>(tools, {
    kind: 'unpacking',
    task: 'unpack',
    priority: -20,
    queueName: ({ rootId }) => `unpack:${rootId}`,
    async work({ run, payload: { rootId, path, into: chosen }, signal, tell }) {
      const root = await Root.findByPk(rootId);
      if (!root) throw notFound('The folder');
      const target = chosen ? await Root.findByPk(chosen.rootId) : root;
      if (!target) throw notFound('The folder');
      const { zip, packed } = await openArchive(await archiveIn(root, path));
      const aside = join(target.path, `.early-set-unpacking-${run.id}`);
      try {
        const before = await placedBefore(target, aside, run.report);
        if (before) {
          await queueScan(scans, target);
          return { report: before, total: before.unpacked, done: before.unpacked };
        }
        await mustBeThere(target);
        await rm(aside, { recursive: true, force: true });
        const { entries, trouble } = judgeEntries(packed.map((p) => p.file));
        if (trouble) throw new Problem(409, 'not-unpacked', `${path}: ${trouble.toLowerCase()}`);
        const wanted = entries.filter((e) => e.segments);
        await roomFor(target, wanted);
        // Of a name that is there twice, the first is meant.
        const byName = new Map(packed.toReversed().map((p) => [p.file.name, p.entry]));
        let done = 0;
        for (const { name, segments } of wanted) {
          signal.throwIfAborted();
          await mustBeThere(target);
          await tell({ done, total: wanted.length, current: name });
          await unpackOne(zip, byName.get(name)!, join(aside, ...segments!), name, signal);
          done++;
        }
        const reportOf = (into: string): UnpackReport => ({ unpacked: done, left: entries.length - done, into });
        await mustBeThere(target);
        const into = await putInPlace(target, aside, placeFor(path, chosen?.path), (place) => {
          const report: object = reportOf(place);
          return run.update({ report });
        });
        await queueScan(scans, target);
        return { report: reportOf(into), total: wanted.length, done };
      } finally {
        zip.close();
        await rm(aside, { recursive: true, force: true });
      }
    },
    again: async (_, run) => (run.state === 'done' ? null : { title: againTitle(run.title), total: 0 }),
  });
}

async function roomFor(root: Root, wanted: readonly JudgedEntry[]): Promise<void> {
  const free = await freeBytes(root.path);
  if (free !== null && free < wanted.reduce((sum, e) => sum + e.size, 0))
    throw new Problem(409, 'no-room', `There is not enough space on the drive of ${root.label}`);
}

/** One file, whole or not at all. @throws Problem when it is broken in the archive */
async function unpackOne(zip: ZipFile, entry: Entry, to: string, name: string, signal: AbortSignal): Promise<void> {
  let sum = 0;
  const check = new Transform({
    transform(chunk: Buffer, _, next) {
      sum = crc32(chunk, sum);
      next(null, chunk);
    },
  });
  const broken = (): Problem => new Problem(415, 'broken', `The archive is broken at ${name}; nothing was unpacked`);
  try {
    makeFolder(dirname(to));
    await pipeline(await zip.openReadStreamPromise(entry), check, createWriteStream(to), { signal });
  } catch (error) {
    signal.throwIfAborted();
    // The drive says why by a code; an archive that lies does not.
    const { code } = error as NodeJS.ErrnoException;
    if (code && /^E[A-Z]+$/.test(code)) throw new Problem(409, 'not-unpacked', `${name}: ${reasonOf(error)}`);
    throw broken();
  }
  if (sum !== entry.crc32) throw broken();
  const date = entry.getLastModDate();
  if (!Number.isNaN(date.getTime())) await utimes(to, date, date);
  const file = await open(to, 'r');
  await file.sync();
  await file.close();
}

/** A process that was killed right after the rename has done all of it: told by what it wrote down before. */
async function placedBefore(root: Root, aside: string, report: unknown): Promise<UnpackReport | null> {
  const before = report as UnpackReport | null;
  if (!before?.into || (await isThere(aside))) return null;
  return (await isThere(join(root.path, before.into))) ? before : null;
}

/** By one rename, under the first name that is free, which is written down before. */
async function putInPlace(
  root: Root,
  aside: string,
  place: readonly string[],
  note: (place: string) => Promise<unknown>,
): Promise<string> {
  for (let n = 1; n < MAX_TRIES; n++) {
    const segments = n === 1 ? [...place] : [...place.slice(0, -1), `${place.at(-1)!} (${n})`];
    const to = await resolveForWriting(root.path, segments);
    if (await isThere(to)) continue;
    await note(segments.join('/'));
    try {
      makeFolder(dirname(to));
      await rename(aside, to);
    } catch (error) {
      throw new Problem(409, 'not-unpacked', reasonOf(error));
    }
    return segments.join('/');
  }
  throw new Problem(409, 'file-exists', `There are too many folders named ${place.at(-1)!}`);
}
