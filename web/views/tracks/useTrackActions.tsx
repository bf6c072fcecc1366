/** What can be done to the chosen tracks of the sheet, with the dialogs that some of it opens. */
import { useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import type { Applied, Selection, SheetRow } from '@early-set/core/api/types';
import type { Condition } from '@early-set/core/conditions/condition';
import { change, perform, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useRoots } from '../../data/hooks.ts';
import { hand, TO_RATE } from '../../data/handed.ts';
import type { SortState } from '../../ui/grid/GridHead.tsx';
import { WriteDialog } from '../changes/WriteDialog.tsx';
import { SCOPE, type Scope } from '../clean/scope.ts';
import { RuleDialog, type RuleAsk } from '../filling/RuleDialog.tsx';
import { chipsOf, type Filters } from './filters/filters.ts';
import { AddToList, type Adding } from './inspector/AddToList.tsx';
import { MeasureDialog } from './MeasureDialog.tsx';
import { ConvertDialog } from '../handover/stick/ConvertDialog.tsx';
import { PointsDialog } from './PointsDialog.tsx';
import { PutDialog } from '../put/PutDialog.tsx';

export interface SheetTracks {
  /** How many are chosen, and how many there are. */
  count: number;
  total: number;
  selection: Selection;
  inHand: SheetRow | null;
  inHandId: number | null;
  filters: Filters;
  where: Condition;
  sort: SortState;
  /** Called when what was chosen is no longer there. */
  onGone: () => void;
}

export interface TrackActions {
  add: () => void;
  clean: () => void;
  keep: () => void;
  rate: () => void;
  hearLater: () => void;
  remove: () => void;
  measure: () => void;
  write: () => void;
  /** Files into another folder. */
  put: () => void;
  /** Files in another format, into a folder of their own. */
  convert: () => void;
  /** Playout points into WAV files. */
  points: () => void;
  /** Where the file in hand lies, into the clipboard: to open it, or its folder, in another program. */
  copyPath: () => void;
  dialogs: ReactNode;
}

export function useTrackActions(of: SheetTracks): TrackActions {
  const { count, total, selection, inHand, inHandId, filters, where, sort, onGone } = of;
  const navigate = useNavigate();
  const { data: roots = [] } = useRoots();
  const [adding, setAdding] = useState<Adding | null>(null);
  const [measuring, setMeasuring] = useState(false);
  const [writing, setWriting] = useState(false);
  const [putting, setPutting] = useState(false);
  const [converting, setConverting] = useState(false);
  const [pointing, setPointing] = useState(false);
  const [ask, setAsk] = useState<RuleAsk | null>(null);
  const everything: Selection = { where, except: [] };
  const add = (): void => {
    if (count > 0) setAdding({ selection, count, sort: sort.id, descending: sort.descending });
  };
  /** What is chosen, or else everything that matches, goes to Clean. */
  const clean = (): void => {
    const scope: Scope = {
      what: 'chosen',
      selection: count > 0 ? selection : everything,
      label: `${several(count || total, 'track')} from Tracks`,
    };
    hand(SCOPE, scope);
    void navigate('/clean');
  };
  const keep = (): void =>
    setAsk({
      listId: null,
      name: chipsOf(filters)
        .map((c) => c.label)
        .join(', '),
      rule: { where },
    });
  const rate = (): void => {
    hand(TO_RATE, { selection: count > 1 ? selection : everything, inHand: inHandId });
    void navigate('/rate?what=chosen');
  };
  const hearLater = (): void => {
    if (count)
      void change(
        post<Applied>('/fields', { selection, field: 'hearLater', value: inHand?.values.hearLater !== true }),
      );
  };
  /** The files stay where they are. */
  const remove = (): void => {
    void change(post<Applied>('/tracks/remove', { selection })).then(onGone);
  };
  const dialogs = (
    <>
      <MeasureDialog
        open={measuring}
        onClose={() => setMeasuring(false)}
        selection={count > 0 ? selection : everything}
        count={count || total}
      />
      <WriteDialog selection={writing ? selection : null} onClose={() => setWriting(false)} />
      <PointsDialog selection={pointing ? selection : null} onClose={() => setPointing(false)} />
      <PutDialog
        selection={putting ? selection : null}
        whose={several(count, 'track')}
        onClose={() => setPutting(false)}
      />
      <ConvertDialog
        selection={converting ? selection : null}
        whose={several(count, 'track')}
        onClose={() => setConverting(false)}
      />
      <RuleDialog ask={ask} onClose={() => setAsk(null)} />
      <AddToList
        adding={adding}
        onClose={() => {
          setAdding(null);
          document.getElementById('sheet')?.focus();
        }}
      />
    </>
  );
  const measure = (): void => setMeasuring(true);
  return {
    add,
    clean,
    keep,
    rate,
    hearLater,
    remove,
    measure,
    write: () => setWriting(true),
    put: () => setPutting(true),
    convert: () => setConverting(true),
    points: () => setPointing(true),
    copyPath: () => {
      const folder = roots.find((r) => r.id === inHand?.rootId)?.path;
      const path = `${folder}/${String(inHand?.values.path)}`;
      if (folder) void perform(navigator.clipboard.writeText(path), `Copied: ${path}`);
    },
    dialogs,
  };
}
