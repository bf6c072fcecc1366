/** A draft line by line: the track, and each field before and after. */
import { fieldOf } from '@early-set/core/fields/table';
import { Difference } from '../../ui/Difference.tsx';

export interface DraftLine {
  trackId: number;
  name?: string;
  path: string;
  fields: { field: string; before: string; after: string }[];
}

export function DraftLines({
  lines,
  total,
}: {
  lines: readonly DraftLine[];
  /** Counts also those that are not shown. */ total: number;
}) {
  return (
    <ul
      tabIndex={0}
      aria-label="What would change"
      className="max-h-[46vh] overflow-y-auto border border-line bg-sheet"
    >
      {lines.map((line) => (
        <li key={line.trackId} className="border-b border-hair px-3 py-1.5">
          <p className="truncate">
            {line.name && <b>{line.name} </b>}
            <span className="text-small text-dim">{line.path}</span>
          </p>
          {line.fields.map(({ field, before, after }) => (
            <p key={field} className="text-small break-words">
              <span className="mr-2 text-dim">{fieldOf(field).label}</span>
              <Difference before={before} after={after} />
            </p>
          ))}
        </li>
      ))}
      {total > lines.length && (
        <li className="px-3 py-1.5 text-small text-dim">and {(total - lines.length).toLocaleString('en-GB')} more</li>
      )}
    </ul>
  );
}
