/** A page of tracks judged one after the other: the list on the left, the one in hand beside it. */
import { ArrowLeft } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import type { SheetRow } from '@early-set/core/api/types';
import { Button } from '../../ui/Button.tsx';
import { useNarrow } from '../../ui/useNarrow.ts';
import { TrackLine } from './TrackLine.tsx';
import type { OneByOne } from './useOneByOne.ts';

interface Props {
  title: string;
  /** How many, and how many are done. */
  count: string;
  /** Of the list. */
  label: string;
  rows: readonly SheetRow[];
  tracks: OneByOne;
  judged: (row: SheetRow) => boolean;
  /** Beside the name in the list. */
  beside?: (row: SheetRow) => ReactNode;
  /** Beside the title of the page. */
  options: ReactNode;
  /** Instead of the list, when there is none. */
  nothing: ReactNode | false;
  children: ReactNode;
}

export function OneByOneLayout(props: Props) {
  const { title, count, label, rows, tracks, judged, beside, options, nothing, children } = props;
  const narrow = useNarrow();
  const [listed, setListed] = useState(false);
  return (
    <div className="flex h-full flex-col bg-fog">
      <header className="flex min-h-[50px] flex-wrap items-center gap-3 border-b border-line bg-paper px-3.5 py-2">
        <Button kind="quiet" aria-label="Back to the tracks" onClick={tracks.leave}>
          <ArrowLeft size={16} />
        </Button>
        <h1 className="heading text-[17px]">{title}</h1>
        <span className="text-small text-dim" aria-live="polite">
          {count}
        </span>
        <span className="flex-1" />
        {narrow && (
          <Button aria-expanded={listed} onClick={() => setListed(!listed)}>
            {listed ? 'One by one' : 'List'}
          </Button>
        )}
        {options}
        <label className="flex items-center gap-1.5 text-small">
          <input
            type="checkbox"
            checked={tracks.automatic}
            onChange={(e) => tracks.setAutomatic(e.target.checked)}
            className="accent-ink"
          />
          Play each track automatically
        </label>
      </header>
      {nothing || (
        <div className="flex min-h-0 flex-1">
          <ol
            aria-label={label}
            hidden={narrow && !listed}
            className={`overflow-y-auto bg-sheet ${narrow ? 'w-full' : 'w-[330px] shrink-0 border-r border-line'}`}
          >
            {rows.map((row, i) => (
              <TrackLine
                key={row.id}
                row={row}
                chosen={i === tracks.at}
                judged={judged(row)}
                onChoose={() => {
                  tracks.choose(row.id);
                  setListed(false);
                }}
              >
                {beside?.(row)}
              </TrackLine>
            ))}
          </ol>
          {!(narrow && listed) && (
            <div className={`min-w-0 flex-1 overflow-y-auto ${narrow ? 'p-2' : 'p-5'}`}>{children}</div>
          )}
        </div>
      )}
    </div>
  );
}
