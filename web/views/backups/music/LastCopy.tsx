/** What the last run came to: each folder in one line, and what was not copied. */
import type { CopiedRoot, MusicCopyReport } from '@early-set/core/api/musicCopy';
import type { RunProgress } from '@early-set/core/api/types';
import { several } from '../../../data/actions.ts';
import { bytes, dayAndTime } from '../../../ui/format.ts';

/** "3 copied, 2 renamed", or that there was nothing to do. */
export function outcomeOf({ copied, replaced, renamed, setAside, failed, same }: CopiedRoot): string {
  const parts = [
    copied > 0 && `${copied} copied`,
    replaced > 0 && `${replaced} replaced`,
    renamed > 0 && `${renamed} renamed`,
    setAside > 0 && `${setAside} earlier set aside`,
    failed > 0 && `${failed} not copied`,
  ].filter((part) => part !== false);
  return parts.length > 0 ? parts.join(', ') : `Up to date: ${several(same, 'file')}`;
}

export function LastCopy({ run }: { run: RunProgress | undefined }) {
  const report = run?.report as MusicCopyReport | null | undefined;
  if (!run || !report || run.state === 'running') return null;
  return (
    <section aria-label="The last time" className="shrink-0 border-b border-hair bg-paper px-4 py-2 text-small">
      <p className="font-semibold">
        {run.title}, {dayAndTime(run.startedAt)}
        {report.bytes > 0 && <span className="figures pl-2 font-normal text-dim">{bytes(report.bytes)}</span>}
      </p>
      <ul aria-label="Folders" tabIndex={0} className="max-h-[9rem] overflow-y-auto">
        {report.roots.map((line) => (
          <li key={line.rootId} className="flex gap-3 py-0.5">
            <span className="w-[150px] shrink-0 truncate text-dim">{line.label}</span>
            <span className={line.trouble !== null ? 'text-flare' : line.failed > 0 ? 'text-sodium-text' : ''}>
              {line.trouble ?? outcomeOf(line)}
            </span>
          </li>
        ))}
        {report.told.map(({ path, reason }) => (
          <li key={path} className="py-0.5 text-sodium-text">
            {path}: {reason}
          </li>
        ))}
      </ul>
    </section>
  );
}
