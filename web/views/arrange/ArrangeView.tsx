/** The Arrange stage: the tree of lists, the list in hand in its order, and what it comes to. */
import { useEffect, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import type { ListLine } from '@early-set/core/api/types';
import { StageLayout } from '../../app/StageLayout.tsx';
import { useList, useLists } from '../../data/hooks.ts';
import { Empty, Trouble } from '../../ui/Empty.tsx';
import { Beside } from './beside/Beside.tsx';
import { ClockView } from '../hours/ClockView.tsx';
import { HourView } from '../hours/HourView.tsx';
import { ListDrops } from './beside/Drops.tsx';
import { Follow } from './follow/Follow.tsx';
import { ListInspector } from './ListInspector.tsx';
import { ListTable, type Taken } from './ListTable.tsx';
import { ListTree } from './ListTree.tsx';
import { TransitionPanel } from './over/TransitionPanel.tsx';
import { useSmoothing } from './useSmoothing.ts';
import { isPutAway } from '../../data/listTree.ts';

export function ArrangeView() {
  const { listId = null } = useParams();
  const [search, setSearch] = useSearchParams();
  const besideId = search.get('beside');
  const navigate = useNavigate();
  const { data: lists } = useLists();
  const { data: list, error } = useList(listId);
  // Without a list in the address the one that was changed last opens; playlists before crates.
  const newest = (kind: ListLine['kind']): ListLine | undefined =>
    lists
      ?.filter((l) => l.kind === kind && !isPutAway(l, lists))
      .reduce<ListLine | undefined>((a, b) => (a && a.updatedAt >= b.updatedAt ? a : b), undefined);
  const first = newest('playlist') ?? newest('crate');
  useEffect(() => {
    if (listId === null && first) void navigate(`/arrange/${first.id}`, { replace: true });
  }, [listId, first, navigate]);
  const current = list?.id === listId ? list : undefined;
  const isRadio = current?.info.kind === 'hour' || current?.info.kind === 'clock';
  /** Where an hour shows what is said of it. */
  const [side, setSide] = useState<HTMLDivElement | null>(null);
  const smoothing = useSmoothing(current);
  const [inHand, setInHand] = useState<string | null>(null);
  /** A track that was just put in; it is in hand as soon as it is there. */
  const [taken, setTaken] = useState<Taken | null>(null);
  return (
    <StageLayout
      stage="arrange"
      middleMin={420}
      left={{ what: 'tree', width: 214, min: 160, max: 380, content: <ListTree lists={lists ?? []} chosen={listId} /> }}
      right={{
        what: 'inspector',
        width: 268,
        min: 220,
        max: 480,
        content: isRadio ? (
          <div ref={setSide} className="h-full" />
        ) : current ? (
          <ListInspector list={current} lists={lists ?? []} smoothing={smoothing}>
            {current.info.kind === 'playlist' && !smoothing.draft && (
              <>
                <Follow
                  list={current}
                  lists={lists ?? []}
                  inHand={inHand}
                  onTaken={(index, trackId) => setTaken({ index, trackId })}
                />
                <TransitionPanel list={current} inHand={inHand} />
              </>
            )}
          </ListInspector>
        ) : (
          <div className="h-full bg-paper" />
        ),
      }}
    >
      {current?.info.kind === 'hour' ? (
        <HourView list={current} side={side} />
      ) : current?.info.kind === 'clock' ? (
        <ClockView key={current.id} list={current} lists={lists ?? []} side={side} />
      ) : current ? (
        <ListDrops>
          <div className="flex h-full">
            <div className="min-w-0 flex-1">
              <ListTable
                key={current.id}
                list={current}
                smoothing={smoothing}
                onInHand={setInHand}
                taken={taken}
                onThere={() => setTaken(null)}
              />
            </div>
            {besideId && besideId !== current.id && (
              <div className="w-[300px] shrink-0">
                <Beside
                  key={besideId}
                  main={current}
                  inHand={inHand}
                  listId={besideId}
                  onClose={() => setSearch({}, { replace: true })}
                />
              </div>
            )}
          </div>
        </ListDrops>
      ) : error && listId ? (
        <Trouble error={error} />
      ) : listId === null && lists && !first ? (
        <Empty main title="No crates or playlists yet">
          <p>Make one on the left, or choose tracks in the sheet and press A.</p>
        </Empty>
      ) : (
        <div aria-busy="true" className="h-full bg-sheet">
          <h1 className="sr-only">Arrange</h1>
        </div>
      )}
    </StageLayout>
  );
}
