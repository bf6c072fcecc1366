/** The Arrange stage: the tree of lists, the list in hand in its order, and what it comes to. */
import { useEffect } from 'react';
import { Group, Panel, Separator } from 'react-resizable-panels';
import { useNavigate, useParams } from 'react-router';
import { useList, useLists } from '../../data/hooks.ts';
import { Empty, Trouble } from '../../ui/Empty.tsx';
import { ListBench } from './ListBench.tsx';
import { ListTable } from './ListTable.tsx';
import { ListTree } from './ListTree.tsx';
import { isPutAway } from './tree.ts';

export function ArrangeView() {
  const { listId = null } = useParams();
  const navigate = useNavigate();
  const { data: lists } = useLists();
  const { data: list, error } = useList(listId);
  // Without a list in the address the first one opens.
  const first = lists?.find((l) => !isPutAway(l, lists) && l.kind === 'playlist') ?? lists?.find((l) => !isPutAway(l, lists));
  useEffect(() => { if (listId === null && first) void navigate(`/arrange/${first.id}`, { replace: true }); }, [listId, first, navigate]);
  const current = list?.id === listId ? list : undefined;
  return (
    <Group orientation="horizontal" id="arrange-layout" className="h-full">
      <Panel id="tree" defaultSize={214} minSize={160} maxSize={380} collapsible collapsedSize={0} groupResizeBehavior="preserve-pixel-size"><ListTree lists={lists ?? []} chosen={listId} /></Panel>
      <Separator className="w-px bg-line hover:bg-tide-deep data-[separator=active]:bg-buoy" aria-label="Width of the tree" />
      <Panel id="list" minSize={420}>
        {current ? <ListTable key={current.id} list={current} />
          : error && listId ? <Trouble error={error} />
            : listId === null && lists && !first ? <Empty main title="No crates or playlists yet"><p>Make one on the left, or choose tracks in the sheet and press A.</p></Empty>
              : <div aria-busy="true" className="h-full bg-sheet"><h1 className="sr-only">Arrange</h1></div>}
      </Panel>
      <Separator className="w-px bg-line hover:bg-tide-deep data-[separator=active]:bg-buoy" aria-label="Width of the bench" />
      <Panel id="list-bench" defaultSize={268} minSize={220} maxSize={480} collapsible collapsedSize={0} groupResizeBehavior="preserve-pixel-size">{current ? <ListBench list={current} lists={lists ?? []} /> : <div className="h-full bg-paper" />}</Panel>
    </Group>
  );
}
