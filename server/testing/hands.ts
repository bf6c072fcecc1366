/** What tests do at the desk with files by their names: edit, take back, look into them. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Applied, ChangeSetDetails, RunProgress } from '@early-set/core/api/types';
import { writeTagsItem } from '@early-set/core/changes/kinds/writeTags';
import { fieldsIn, openTags } from '@early-set/core/tags/edit';
import { withSource } from '../files/tagFile.ts';
import type { Harness } from './harness.ts';

/** @param harness asked at each call: tests start it late */
export function hands(harness: () => Harness) {
  const one = async <T>(text: string, values: unknown[]): Promise<T> => (await harness().query<T>(text, values))[0]!;
  const idOf = async (path: string): Promise<number> =>
    (await one<{ id: number }>('SELECT id FROM tracks WHERE path = $1', [path])).id;
  const pathOf = (name: string): string => join(harness().music, name);
  const runOf = async (runId: number): Promise<RunProgress> =>
    ((await harness().get('/runs')).body as RunProgress[]).find((r) => r.id === runId)!;
  const inFile = (name: string): Record<string, string[]> =>
    withSource(pathOf(name), (source) => fieldsIn(openTags(source)));
  const set = async (names: string[], field: string, value: unknown, status = 200): Promise<Applied> => {
    const ids = await Promise.all(names.map(idOf));
    return (await harness().post('/fields', { selection: { ids }, field, value }).expect(status)).body as Applied;
  };
  return {
    idOf,
    pathOf,
    inFile,
    set,
    /** Titles whose library part is made and whose files all wait to be written, as a killed server leaves them. */
    waiting: async (names: string[], title: string): Promise<Applied> => {
      await harness().patch('/settings', { editsGoTo: 'library' });
      const made = await set(names, 'title', title);
      await harness().patch('/settings', { editsGoTo: 'library and files' });
      for (const [i, name] of names.entries()) {
        const trackId = await idOf(name);
        const item = writeTagsItem(trackId, { title: { before: inFile(name).title ?? null, after: [title] } });
        await harness().query(
          `INSERT INTO change_items (change_set_id, seq, item, state, area, track_id)
            VALUES ($1, $2, $3, 'waiting', 'files', $4)`,
          [made.changeSetId, 100 + i, JSON.stringify(item), trackId],
        );
      }
      return made;
    },
    undo: async ({ changeSetId }: { changeSetId: number }, lines?: number[]): Promise<Applied> =>
      (
        await harness()
          .post(`/changes/${changeSetId}/undo`, lines ? { lines } : {})
          .expect(200)
      ).body as Applied,
    details: async (id: number): Promise<ChangeSetDetails> =>
      (await harness().get(`/changes/${id}`).expect(200)).body as ChangeSetDetails,
    unwritten: async (name: string): Promise<string[]> =>
      (await one<{ unwritten: string[] | null }>('SELECT unwritten FROM tracks WHERE path = $1', [name])).unwritten ??
      [],
    titleOf: async (path: string): Promise<string> =>
      (await one<{ title: string }>('SELECT title FROM tracks WHERE path = $1', [path])).title,
    bytesOf: (names: string[]): Buffer[] => names.map((name) => readFileSync(pathOf(name))),
    /** Waits until all files of a change set are written, and whoever wrote them has ended. */
    finished: async (changeSetId: number): Promise<void> => {
      await harness().until(
        async () =>
          ((await harness().get(`/changes/${changeSetId}`).expect(200)).body as ChangeSetDetails).waiting === 0 &&
          ((await harness().get('/runs')).body as RunProgress[]).every((r) => r.state !== 'running'),
        'all is written',
      );
    },
    /** Waits until a run has ended. */
    ended: async (runId: number): Promise<RunProgress> => {
      await harness().until(async () => (await runOf(runId)).finishedAt !== null, 'the run has ended');
      return runOf(runId);
    },
    /** Scans a root, and waits until it has been. */
    scanned: async (rootId: number, body: object = {}): Promise<RunProgress> => {
      const { runId } = (await harness().post(`/roots/${rootId}/scan`, body).expect(200)).body as { runId: number };
      await harness().until(async () => (await runOf(runId)).finishedAt !== null, 'the folder has been read again');
      return runOf(runId);
    },
  };
}
