/** The releases a group may be, side by side. */
import type { Candidate } from '@early-set/core/api/catalogue';
import { NOTHING } from '../../ui/grid/choice.ts';
import { Grid, ROW_HEIGHT } from '../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../ui/grid/gridKeys.ts';

const COLUMNS: GridColumn[] = [
  { id: 'release', label: 'Release', width: 150, grow: 1, className: 'font-medium' },
  { id: 'year', label: 'Year', width: 56 },
  { id: 'country', label: 'Country', width: 76 },
  { id: 'format', label: 'Format', width: 84 },
  { id: 'label', label: 'Label', width: 110 },
  { id: 'lines', label: 'Tracks', width: 60, figures: true },
  { id: 'score', label: 'Score', width: 60, figures: true },
];
const valueOf = ({ release: r, match }: Candidate, column: string): string => {
  const values: Record<string, string | null> = {
    release: `${r.artists.join(', ')} – ${r.title}`,
    year: r.year === null ? null : String(r.year),
    country: r.country,
    format: r.format,
    label: r.label,
    lines: String(r.tracks.length),
    score: match.score.toFixed(2),
  };
  return values[column] ?? '';
};
/** Pixels of the heads and the frame. */
const FRAME = 30;

interface Props {
  candidates: readonly Candidate[];
  chosen: Candidate | undefined;
  onChoose: (id: string) => void;
}

/** What differs from the one in hand is marked. */
export function Versions({ candidates, chosen, onChoose }: Props) {
  const at = chosen ? candidates.indexOf(chosen) : -1,
    focus = at < 0 ? null : at;
  const choose = (index: number): void => {
    const candidate = candidates[index];
    if (candidate && candidate !== chosen) onChoose(candidate.release.id);
  };
  return (
    <div className="border-b border-line text-small" style={{ height: candidates.length * ROW_HEIGHT + FRAME }}>
      <Grid
        id="releases"
        label="Releases it may be"
        multiple={false}
        columns={COLUMNS}
        count={candidates.length}
        row={(i) => candidates[i]}
        idOf={(c) => c.release.id}
        data={(c) => ({ 'data-release': c.release.id })}
        lead={(c) => <InHand on={c === chosen} />}
        cell={(c, column) => (
          <Value text={valueOf(c, column)} than={chosen && valueOf(chosen, column)} column={column} />
        )}
        chosen={{ ...NOTHING, ids: new Set(chosen ? [chosen.release.id] : []), focus, anchor: focus }}
        onChoose={choose}
        onKey={gridKeys({ count: candidates.length, focus, choose })}
      />
    </div>
  );
}

/** The one in hand; the row says so to assistive technology. */
const InHand = ({ on }: { on: boolean }) => (
  <span
    aria-hidden="true"
    className={`block size-[11px] rounded-full border ${on ? 'border-[3px] border-buoy' : 'border-line'}`}
  />
);

function Value({ text, than, column }: { text: string; than: string | undefined; column: string }) {
  const differs = than !== undefined && than !== text && column !== 'score';
  return (
    <span title={text} className={differs ? 'text-sodium-text' : ''}>
      {text}
    </span>
  );
}
