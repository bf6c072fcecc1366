/** Tracks by their covers, for those who know their records by sight. */
import type { SheetRow } from '@early-set/core/api/types';
import type { Chosen, How } from '../../../ui/grid/choice.ts';
import { Wall } from '../../../ui/grid/Wall.tsx';
import { Art, Playing, StateMark } from '../../../ui/Marks.tsx';
import type { MenuItem } from '../../../ui/Menu.tsx';
import { textOf } from '../../../ui/format.ts';
import { useRows, type Sheet } from './useSheet.ts';

const COVER = 148,
  MARGIN = 8,
  WORDS = 40;

interface Props {
  sheet: Sheet;
  chosen: Chosen;
  onChoose: (index: number, how: How) => void;
  onOpen: (index: number) => void;
  onKey: (e: React.KeyboardEvent<HTMLElement>) => void;
  menu: MenuItem[];
  playingId: number | null;
  onAcross: (across: number) => void;
}

const nameOf = ({ values }: SheetRow): string =>
  textOf('title', values.title) ||
  String(values.path ?? '')
    .split('/')
    .at(-1)!;

export function CoverWall({ sheet, playingId, ...wall }: Props) {
  return (
    <Wall<SheetRow>
      {...wall}
      id="sheet"
      label="Tracks"
      count={sheet.total}
      row={useRows(sheet)}
      look={sheet.look}
      idOf={(row) => row.id}
      data={(row) => ({ 'data-track': row.id })}
      width={COVER + 2 * MARGIN}
      below={WORDS}
      name={(row) => [nameOf(row), textOf('artist', row.values.artist)].filter(Boolean).join(', ')}
      tile={(row, width) => (
        <>
          <Art hash={row.artHash} size={width - 2 * MARGIN} alt="" />
          <p className="mt-1 flex items-center gap-1.5" title={nameOf(row)}>
            {playingId === row.id ? <Playing /> : <StateMark row={row} />}
            <span className="min-w-0 truncate font-semibold">{nameOf(row)}</span>
          </p>
          <p className="truncate text-small text-dim" title={textOf('artist', row.values.artist)}>
            {textOf('artist', row.values.artist) || 'no artist'}
          </p>
        </>
      )}
    />
  );
}
