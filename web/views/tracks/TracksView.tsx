/** The Tracks stage: filters, sheet and inspector, with everything that can be done to what is chosen. */
import { DndContext, DragOverlay } from '@dnd-kit/core';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { SheetRow } from '@early-set/core/api/types';
import { tableActions, useKeys, type KeyActions } from '../../commands/commands.ts';
import { StageLayout } from '../../app/StageLayout.tsx';
import { toggleAudition, useFollow, usePlayer } from '../../audition/player.ts';
import { several } from '../../data/actions.ts';
import { useFacets, useOverview, useTrack } from '../../data/hooks.ts';
import { useRemembered } from '../../data/remembered.ts';
import { Trouble } from '../../ui/Empty.tsx';
import { Inspector } from './inspector/Inspector.tsx';
import { ColumnChooser } from './sheet/ColumnChooser.tsx';
import { useColumns } from './sheet/columns.ts';
import { DropLists } from './sheet/DropLists.tsx';
import { useDropOnLists } from './sheet/useDropOnLists.ts';
import { useCellEditing } from './sheet/useCellEditing.ts';
import { Nothing } from './Nothing.tsx';
import { FilterPanel } from './filters/FilterPanel.tsx';
import { chipsOf, NO_FILTERS } from './filters/filters.ts';
import { chooseAll, chosenCount, isChosen, NOTHING } from '../../ui/grid/choice.ts';
import { gridKeys } from '../../ui/grid/gridKeys.ts';
import { CoverWall } from './sheet/CoverWall.tsx';
import { SheetBar, type SheetLook } from './sheet/SheetBar.tsx';
import { useSheetAddress } from './sheet/useSheetAddress.ts';
import { SheetTable } from './sheet/SheetTable.tsx';
import { toSelection } from './sheet/selectionOf.ts';
import { useSheetChoice } from './sheet/useSheetChoice.ts';
import { useRow, useSheet } from './sheet/useSheet.ts';
import { playOrder } from './sheet/playOrder.ts';
import { useColumnCommands } from './useColumnCommands.ts';
import { useTrackActions } from './useTrackActions.tsx';
import { useTracksMenu } from './useTracksMenu.ts';

export function TracksView() {
  const { filters, conditions, where, fitTo, sort, query, narrow, sortBy, setReference } = useSheetAddress();
  const sheet = useSheet(query);
  const { data: facets } = useFacets(conditions);
  const { data: overview } = useOverview();
  const { data: reference } = useTrack(fitTo);
  const columnState = useColumns();
  // How well others fit is only known beside a track.
  const shownColumns = columnState.columns.filter((c) => c.id !== 'fit' || fitTo !== null);
  const player = usePlayer();
  const { chosen, choose, chooseAt } = useSheetChoice(query, sheet);
  const [look, setLook] = useRemembered<SheetLook>('tracks-look', 'list');
  const [across, setAcross] = useState(1);
  const [inspectorAsk, setInspectorAsk] = useState<{ what: 'open' | 'edit'; n: number }>({ what: 'open', n: 0 });

  const count = chosenCount(chosen, sheet.total);
  const focusRow = useRow(sheet, chosen.focus);
  const inHandId = focusRow?.id ?? (!chosen.all && chosen.ids.size ? [...chosen.ids].at(-1)! : null);
  const { data: asked } = useTrack(inHandId);
  const inHand: SheetRow | null = focusRow ?? (asked?.id === inHandId ? asked : null) ?? null;
  const selection = toSelection(chosen, where);

  const { add, clean, keep, rate, hearLater, remove, measure, write, points, put, convert, copyPath, dialogs } =
    useTrackActions({
      count,
      total: sheet.total,
      selection,
      inHand,
      inHandId,
      filters,
      where,
      sort,
      onGone: () => choose(NOTHING),
    });
  const navigate = useNavigate();
  const audition = (): void => toggleAudition(inHand, playOrder(query, sheet, chosen.focus));
  useFollow(query, (at) => chooseAt(at, 'one'));
  const openInspector = (what: 'open' | 'edit'): void => setInspectorAsk((b) => ({ what, n: b.n + 1 }));
  const { editing, edit, editInHand, editStep } = useCellEditing(sheet, shownColumns, chosen, chooseAt, () =>
    openInspector('edit'),
  );
  const none = count === 0;
  const playingThis = player.playing && player.track?.id === inHand?.id;
  const keys: Required<KeyActions<'tracks'>> = {
    audition: { run: audition, disabled: !inHand, ...(playingThis ? { label: 'Pause' } : {}) },
    open: { run: () => openInspector('open'), disabled: none },
    edit: { run: editInHand, disabled: none, label: 'Edit' },
    add: { run: add, disabled: none, label: 'Add to…' },
    hearLater: { run: hearLater, disabled: none },
    fit: { run: () => setReference(inHandId === fitTo ? null : inHandId), disabled: inHandId === null },
    rate: { run: rate, disabled: sheet.total === 0 },
  };
  useKeys('tracks', keys);
  const all = { run: () => choose(chooseAll(chosen)) };
  useKeys('table', { all, none: { run: () => choose(NOTHING), disabled: none } });
  const items = useTracksMenu(keys, all, {
    measure: { run: measure, disabled: none },
    clean: { run: clean, disabled: sheet.total === 0 },
    write: { run: write, disabled: none },
    put: { run: put, disabled: none },
    points: { run: points, disabled: none },
    convert: { run: convert, disabled: none },
    copyPath: { run: copyPath, disabled: !inHand },
    remove: { run: remove, disabled: none },
    allOff: () => narrow(() => NO_FILTERS),
    keep: { run: keep, disabled: chipsOf(filters).length === 0 },
    look: () => setLook(look === 'list' ? 'covers' : 'list'),
  });

  useColumnCommands(columnState, sort, sortBy);

  const onKey = gridKeys({
    count: sheet.total,
    focus: chosen.focus,
    choose: chooseAt,
    all: all.run,
    none: () => choose(NOTHING),
    ...(look === 'covers' ? { across } : {}),
    ...tableActions('tracks', keys),
  });

  const { dragging, context } = useDropOnLists((rowId) => ({
    selection: isChosen(chosen, rowId) && count > 1 ? selection : { ids: [rowId] },
    sort: sort.id,
    descending: sort.descending,
  }));
  const narrowed = chipsOf(filters).length > 0;
  const shared = {
    sheet,
    chosen,
    onChoose: chooseAt,
    onOpen: (i: number): void => {
      chooseAt(i, 'one');
      openInspector('open');
    },
    onKey,
    menu: items,
    playingId: player.playing ? (player.track?.id ?? null) : null,
  };
  return (
    <DndContext {...context}>
      <StageLayout
        stage="tracks"
        middleMin={380}
        left={{
          what: 'filters',
          width: 186,
          min: 150,
          max: 340,
          content:
            dragging === null ? <FilterPanel filters={filters} onNarrow={narrow} facets={facets} /> : <DropLists />,
        }}
        right={{
          what: 'inspector',
          width: 265,
          min: 220,
          max: 520,
          content: (
            <Inspector
              trackId={inHandId}
              count={count}
              selection={selection}
              everything={{ where, except: [] }}
              ask={inspectorAsk}
              onAdd={add}
              onFit={setReference}
              fitTo={fitTo}
            />
          ),
        }}
      >
        <div className="flex h-full flex-col">
          <SheetBar
            total={sheet.total}
            of={overview?.tracks ?? 0}
            filters={filters}
            onNarrow={narrow}
            fitTitle={fitTo !== null && reference ? String(reference.values.title ?? 'this track') : null}
            onNoFit={() => setReference(null)}
            count={count}
            view={look}
            onView={setLook}
            columns={<ColumnChooser {...columnState} />}
            onCheck={() => void navigate('/check')}
            onClean={clean}
            onMeasure={measure}
            onAdd={add}
            onKeep={keep}
          />
          <div className="min-h-0 flex-1">
            {sheet.error ? (
              <Trouble error={sheet.error} />
            ) : sheet.total === 0 && !sheet.loading ? (
              <Nothing narrowed={narrowed} onClear={() => narrow(() => NO_FILTERS)} />
            ) : look === 'covers' ? (
              <CoverWall {...shared} onAcross={setAcross} />
            ) : (
              <SheetTable
                {...shared}
                query={query}
                columns={shownColumns}
                sort={sort}
                onSort={sortBy}
                onResize={columnState.resize}
                editing={editing}
                onEdit={edit}
                onEditStep={editStep}
                reference={
                  reference
                    ? {
                        bpm: reference.values.bpm as number | null,
                        key: reference.values.key as string | null,
                        energy: reference.values.energy as number | null,
                      }
                    : null
                }
              />
            )}
          </div>
        </div>
      </StageLayout>
      <DragOverlay dropAnimation={null}>
        {dragging !== null && (
          <span className="inline-block rounded-xs bg-inverse px-2.5 py-1.5 font-semibold text-inverse-ink">
            {several(isChosen(chosen, dragging) ? count : 1, 'track')}
          </span>
        )}
      </DragOverlay>
      {dialogs}
    </DndContext>
  );
}
