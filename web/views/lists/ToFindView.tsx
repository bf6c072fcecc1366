/** What is still to be found: open slots of all lists that say which track they wait for. */
import { ArrowLeft } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import type { ToFind } from '@early-set/core/api/lists';
import type { Applied, MatchedList } from '@early-set/core/api/types';
import { clockLength } from '@early-set/core/clock/clock';
import { change, complain, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useToFind } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Empty } from '../../ui/Empty.tsx';
import { Grid } from '../../ui/grid/Grid.tsx';
import { chooseOne, NOTHING, type Chosen } from '../../ui/grid/choice.ts';
import type { GridColumn } from '../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../ui/grid/gridKeys.ts';

const COLUMNS: GridColumn[] = [
  { id: 'text', label: 'To find', width: 240, grow: 2 },
  { id: 'list', label: 'For', width: 160, grow: 1 },
  { id: 'place', label: 'Place', width: 64, figures: true },
  { id: 'length', label: 'Length', width: 72, figures: true },
  { id: 'match', label: 'In the library', width: 260, grow: 2 },
];
type Match = MatchedList['lines'][number]['candidates'][number];

export function ToFindView() {
  const { data: slots } = useToFind();
  const [matches, setMatches] = useState<ReadonlyMap<string, Match | null>>(new Map());
  const [looking, setLooking] = useState(false);
  const [chosen, setChosen] = useState<Chosen<string>>(NOTHING);
  const lines = slots ?? [];
  const look = async (): Promise<void> => {
    setLooking(true);
    try {
      const asked = lines.slice(0, MAX_LINES);
      const { lines: found } = await post<MatchedList>('/lists/match', {
        text: asked.map((l) => l.text.replace(/\s+/g, ' ')).join('\n'),
        ending: 'txt',
      });
      setMatches(new Map(asked.map((slot, i) => [slot.entryId, found[i]?.candidates[0] ?? null])));
    } catch (error) {
      complain(error);
    }
    setLooking(false);
  };
  const copy = async (): Promise<void> => {
    await navigator.clipboard.writeText(lines.map((l) => l.text).join('\n'));
    toast(`${several(lines.length, 'line')} copied`, { duration: 3000 });
  };
  const choose = (index: number): void => {
    const line = lines[index];
    if (line) setChosen(chooseOne(line.entryId, index));
  };
  return (
    <div className="flex h-full flex-col bg-sheet">
      <div className="flex min-h-[50px] items-center gap-3 border-b border-line bg-paper px-3.5 py-2">
        <Link
          to="/arrange"
          aria-label="Back to Arrange"
          className="rounded-xs p-1 text-dim hover:bg-hair hover:text-ink"
        >
          <ArrowLeft size={16} />
        </Link>
        <h1 className="heading text-[19px]">To find</h1>
        <span className="figures text-small text-dim">{several(lines.length, 'open slot')}</span>
        <span className="flex-1" />
        <Button disabled={lines.length === 0} onClick={() => void copy()}>
          Copy as text
        </Button>
        <Button kind="main" disabled={lines.length === 0 || looking} onClick={() => void look()}>
          {looking ? 'Looking…' : 'Look in the library'}
        </Button>
      </div>
      {slots?.length === 0 ? (
        <Empty main title="Nothing to find">
          <p>Lines of a pasted list that match no track stay in it as open slots, and are gathered here.</p>
        </Empty>
      ) : (
        <div className="min-h-0 flex-1">
          <Grid
            id="to-find"
            label="Open slots"
            columns={COLUMNS}
            count={lines.length}
            row={(i) => lines[i]}
            rowHeight={34}
            idOf={(line) => line.entryId}
            cell={(line, column) => <Cell line={line} column={column} match={matches.get(line.entryId)} />}
            chosen={chosen}
            onChoose={choose}
            onKey={gridKeys({
              count: lines.length,
              focus: chosen.focus,
              choose,
              all: () => undefined,
              none: () => setChosen(NOTHING),
            })}
          />
        </div>
      )}
    </div>
  );
}

/** So many are looked for at once. */
const MAX_LINES = 500;

function Cell({ line, column, match }: { line: ToFind; column: string; match: Match | null | undefined }) {
  switch (column) {
    case 'text':
      return <b title={line.text}>{line.text}</b>;
    case 'list':
      return (
        <Link to={`/arrange/${line.listId}`} className="hover:text-buoy-text hover:underline">
          {line.list}
        </Link>
      );
    case 'place':
      return line.position + 1;
    case 'length':
      return line.seconds === null ? '–' : clockLength(line.seconds);
    default:
      if (match === undefined) return null;
      if (match === null) return <span className="text-dim">not found</span>;
      return (
        <span className="flex items-center gap-2">
          <span className="min-w-0 flex-1 truncate" title={match.name}>
            {match.name} <span className="figures text-small text-dim">{Math.round(match.score * 100)} %</span>
          </span>
          <Button
            onClick={() =>
              void change(post<Applied>(`/lists/${line.listId}/entries/${line.entryId}/swap`, { trackId: match.id }))
            }
          >
            Put it in
          </Button>
        </span>
      );
  }
}
