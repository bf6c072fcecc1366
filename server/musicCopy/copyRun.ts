/** The run that brings the copy of the music up to date, or reads all of it again to see whether it is sound. */
import type { MusicCopyReport } from '@early-set/core/api/musicCopy';
import { Problem } from '../base/problem.ts';
import { Root } from '../db/models.ts';
import { reasonOf } from '../files/reasons.ts';
import { againTitle, defineRun, type DefinedRun } from '../jobs/defineRun.ts';
import type { Queue } from '../jobs/queue.ts';
import { resolveInRoot } from '../media/roots.ts';
import { copiedFiles, noteBad } from '../copied/copiedFiles.ts';
import { copyRoot, type CopyHand, type CopyTools } from './copyRoot.ts';
import { copyFolder, placeOf } from '../copied/places.ts';
import { musicCopySettings } from '../copied/settings.ts';

export interface MusicCopyWish {
  what: 'copy' | 'check';
}
export type MusicCopyRun = DefinedRun<MusicCopyWish>;

export const MUSIC_COPY_TITLES: Record<MusicCopyWish['what'], string> = {
  copy: 'Copy of the music',
  check: 'Checking the copy of the music',
};

export function musicCopyRun(tools: CopyTools & { queue: Queue }): MusicCopyRun {
  return defineRun<MusicCopyWish>(tools, {
    kind: 'musicCopy',
    task: 'copyMusic',
    priority: 0,
    queueName: () => 'musicCopy',
    again: (_, run) => Promise.resolve({ title: againTitle(run.title), total: 0 }),
    async work({ payload, signal, tell }) {
      await copyFolder(); // all of it is away, or none
      const { leftOut } = await musicCopySettings();
      const roots = (await Root.findAll({ where: { removed: false }, order: [['label', 'ASC']] })).filter(
        ({ id }) => !leftOut.includes(id),
      );
      const report: MusicCopyReport = { roots: [], bytes: 0, told: [] };
      let done = 0,
        total = 0;
      const hand: CopyHand = {
        ...{ signal, report },
        toDo: (files) => void (total += files),
        tell: (current) => tell({ done: done++, total, current }),
      };
      for (const root of roots)
        try {
          const folder = await placeOf(root);
          await (payload.what === 'copy' ? copyRoot(tools, root, folder, hand) : checkRoot(tools, root, folder, hand));
        } catch (error) {
          if (!(error instanceof Problem)) throw error;
          // The other folders may be there.
          const line = report.roots.find(({ rootId }) => rootId === root.id);
          if (line) line.trouble = error.message;
          else report.roots.push({ ...NOTHING, rootId: root.id, label: root.label, trouble: error.message });
        }
      const failed = report.roots.reduce((sum, line) => sum + line.failed, 0);
      const troubles = report.roots.flatMap(({ trouble }) => (trouble === null ? [] : [trouble]));
      return {
        report,
        total: done,
        done: Math.max(0, done - failed),
        failed,
        ...(troubles[0] ? { reason: troubles[0] } : {}),
      };
    },
  });
}

const NOTHING = { same: 0, copied: 0, replaced: 0, renamed: 0, setAside: 0, failed: 0 };

/** Reads each file of the copy from its drive. One that reads otherwise than it was copied is copied anew next time. */
async function checkRoot(
  { database, files }: CopyTools,
  root: Root,
  folder: string,
  { signal, tell, toDo, report }: CopyHand,
): Promise<void> {
  const line = { ...NOTHING, rootId: root.id, label: root.label, trouble: null };
  report.roots.push(line);
  const known = (await copiedFiles(database, root.id)).filter(
    ({ state, sha256 }) => state !== 'aside' && sha256 !== '',
  );
  toDo(known.length);
  for (const { id, path, size, sha256 } of known) {
    signal.throwIfAborted();
    await tell(`${root.label}: ${path}`);
    const reason = await resolveInRoot(folder, path)
      .then((at) => files.ask({ op: 'hash', path: at }, { signal }))
      .then(({ hash }) => (hash === sha256 ? null : 'It reads otherwise than when it was copied'))
      .catch((error: unknown) => {
        signal.throwIfAborted();
        return error instanceof Problem ? error.message : reasonOf(error);
      });
    if (reason === null) line.same++;
    else {
      await noteBad(database, id);
      line.failed++;
      report.told.push({ path: `${root.label}: ${path}`, reason });
    }
    report.bytes += size;
  }
}
