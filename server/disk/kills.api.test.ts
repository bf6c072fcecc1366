/**
 * Files moved, copied, put into quarantine and back, also such as are no music, and folders, each killed at a step
 * picked by chance, one after the other on the same files: after each the next start finishes. Every file is there
 * once, copies as often as they were made, nothing is half written; in the end all of it is taken back, byte for byte,
 * and no folder is left over.
 */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { createHash, randomUUID } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import type { QuarantinedFile } from '@early-set/core/api/disk';
import type { Applied } from '@early-set/core/api/types';
import { touchesOf } from '@early-set/core/changes/items';
import { putAside, putBack, type PutAside } from '@early-set/core/changes/kinds/putAside';
import { quarantined, relocateFile, type RelocateFile } from '@early-set/core/changes/kinds/relocateFile';
import type { FileRef } from '@early-set/core/files/fileRef';
import type { WorkStep } from '../changes/context.ts';
import { buildKiller, die } from '../testing/die.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

const KILLS = Number(process.env.EARLY_SET_KILLS ?? 10);
const STEPS: readonly WorkStep[] = ['claimed', 'prepared', 'journalled', 'written', 'settled'];
type Item = RelocateFile | PutAside;
/** By which its lines keep their order. */
const aboutOf = (item: Item): number => touchesOf(item).tracks![0]!;
const OTHERS = ['Bare/notes.txt', 'cover scan.pdf'];
const FOLDER = randomUUID();
const FILES = ['In/a.mp3', 'In/b.flac', 'c.wav', 'Crates/d.ogg', 'Crates/Late/e.mp3'];

let h: Harness, rootId: number;
const { finished, undo } = hands(() => h);
const sum = (path: string): string => createHash('sha256').update(readFileSync(path)).digest('hex');
/** Every file below the music folder with what is in it, hidden ones too; and every folder. */
function lying(): { files: Map<string, string>; folders: string[] } {
  const all = readdirSync(h.music, { recursive: true, withFileTypes: true });
  const at = (e: (typeof all)[number]): string => join(e.parentPath, e.name);
  return {
    files: new Map(all.filter((e) => e.isFile()).map((e) => [relative(h.music, at(e)), sum(at(e))])),
    folders: all.filter((e) => e.isDirectory()).map((e) => relative(h.music, at(e))),
  };
}

interface Known {
  fileId: string;
  trackId: number;
  path: string;
  state: string;
}
const known = (): Promise<Known[]> =>
  h.query<Known>(
    `SELECT id AS "fileId", track_id AS "trackId", path, state FROM track_files WHERE state <> 'missing' ORDER BY id`,
  );

beforeAll(async () => {
  await buildKiller();
  h = await startHarness();
  for (const [i, path] of FILES.entries()) {
    makeAudio(join(h.music, path), { seconds: 1, hz: 300 + 30 * i, tags: { title: `Tide ${i}` } });
  }
  mkdirSync(join(h.music, 'Bare/deep'), { recursive: true });
  for (const path of OTHERS) writeFileSync(join(h.music, path), path);
  rootId = await h.takeIn(h.music, false);
}, 60_000);
afterAll(() => h?.stop());

/** A change set whose lines all wait, as a killed server leaves them. */
async function waiting(items: readonly Item[]): Promise<Applied> {
  const [track] = await h.query<{ id: number }>('SELECT id FROM tracks ORDER BY id LIMIT 1');
  const { body } = await h
    .post('/fields', { selection: { ids: [track!.id] }, field: 'notes', value: randomUUID() })
    .expect(200);
  const made = body as Applied;
  for (const [i, item] of items.entries())
    await h.query(
      `INSERT INTO change_items (change_set_id, seq, item, state, area, track_id)
        VALUES ($1, $2, $3, 'waiting', 'files', $4)`,
      [made.changeSetId, 100 + i, JSON.stringify(item), aboutOf(item)],
    );
  return made;
}

/** What is no music goes into quarantine in one round and back in the next; so does the empty folder. */
async function wishesForOthers(): Promise<PutAside[]> {
  const { files } = (await h.get('/disk/quarantine').expect(200)).body as { files: QuarantinedFile[] };
  const folder = {
    what: 'folder' as const,
    id: FOLDER,
    ref: { rootId, path: 'Bare/deep' },
    size: 0,
    modifiedMs: 0,
    reason: '',
  };
  return [
    ...OTHERS.map((path) => {
      const there = files.find((f) => f.from === path);
      const thing = {
        what: 'file' as const,
        id: there?.fileId ?? randomUUID(),
        size: path.length,
        modifiedMs: statSync(join(h.music, there?.path ?? path)).mtimeMs,
        reason: 'Text',
      };
      return there
        ? putBack({ ...thing, ref: { rootId, path: there.path } }, { rootId, path })
        : putAside({ ...thing, ref: { rootId, path } });
    }),
    existsSync(join(h.music, 'Bare/deep')) ? putAside(folder) : putBack(folder, folder.ref),
  ];
}

/** What is done to a file in a round: the kinds take turns. */
function wish(n: number, file: Known, at: number): RelocateFile {
  const before: FileRef = { rootId, path: file.path },
    own = { trackId: file.trackId, fileId: file.fileId };
  if (file.state === 'retired') return relocateFile('restore', own, before, { rootId, path: `Back ${n}/${at}.mp3` });
  switch ((n + at) % 4) {
    case 0:
      return relocateFile('retire', own, before, quarantined(before, file.fileId));
    case 1: {
      const copy = { trackId: file.trackId, fileId: randomUUID() };
      return relocateFile('copy', copy, null, { rootId, path: `Copies/${n}/${at}.mp3` }, before);
    }
    default:
      return relocateFile('move', own, before, { rootId, path: `Moved ${n}/deep/${at}.mp3` });
  }
}

test(
  `${KILLS} kills: nothing is lost, nothing is there twice`,
  async () => {
    const first = lying();
    const made: Applied[] = [];
    const copies: string[] = [];
    for (let n = 0; n < KILLS; n++) {
      const files = await known();
      const moves = files.slice(0, 6).map((file, i) => wish(n, file, i));
      for (const { mode, source } of moves) if (mode === 'copy') copies.push(sum(join(h.music, source!.path)));
      const items: Item[] = [...moves, ...(await wishesForOthers())];
      const change = await waiting(items);
      made.push(change);
      const step = STEPS[(n * 3 + Math.floor(n / 5)) % STEPS.length]!,
        victim = items[(n * 4 + 1) % items.length]!;
      die(h, change.changeSetId, step, aboutOf(victim));
      await h.restart();
      await finished(change.changeSetId);
      const said = await h.query<{ reason: string | null }>(
        "SELECT reason FROM change_items WHERE change_set_id = $1 AND state <> 'done'",
        [change.changeSetId],
      );
      expect([n, step, said]).toEqual([n, step, []]);
      const now = lying();
      expect([n, step, [...now.files.values()].sort()]).toEqual([n, step, [...first.files.values(), ...copies].sort()]);
      for (const { path } of await known()) expect([n, path, existsSync(join(h.music, path))]).toEqual([n, path, true]);
      expect([...now.files.keys()].filter((path) => path.includes('unfinished'))).toEqual([]);
    }
    for (const change of made.reverse()) {
      await undo(change);
      await finished(change.changeSetId);
    }
    const last = lying();
    // Copies that are taken back lie in quarantine: nothing is deleted.
    const inMusic = new Map([...last.files].filter(([path]) => !path.startsWith('.early-set-quarantine/')));
    expect(inMusic).toEqual(first.files);
    expect(last.files.size).toBe(first.files.size + copies.length);
    expect(last.folders.filter((f) => !f.startsWith('.early-set')).sort()).toEqual(first.folders.sort());
  },
  60_000 + KILLS * 15_000,
);
