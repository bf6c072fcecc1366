/**
 * The three columns of a stage: what to work on, the sheet, the inspector. Widths are remembered; both sides fold. On a
 * narrow page they take turns.
 */
import { useState, type ReactNode } from 'react';
import { Group, Panel, Separator, usePanelRef, type PanelImperativeHandle } from 'react-resizable-panels';
import { useKeys } from '../commands/commands.ts';
import { AS_DRAWN, LAYOUT_TURN, widthsName, type DeskWidths, type StageWithDesk } from '../data/layouts.ts';
import { remembered, useRemembered, write } from '../data/remembered.ts';
import { Segmented } from '../ui/Segmented.tsx';
import { useNarrow } from '../ui/useNarrow.ts';

interface Side {
  content: ReactNode;
  what: string;
  width: number;
  min: number;
  max: number;
}
interface Props {
  stage: StageWithDesk;
  left: Side;
  right: Side;
  middleMin: number;
  children: ReactNode;
}

export function StageLayout(props: Props) {
  // A layout brought back counts one up; the columns are then laid out anew.
  const [turn] = useRemembered(LAYOUT_TURN, 0);
  return useNarrow() ? <OneAtATime {...props} /> : <Columns key={turn} {...props} />;
}

/** What the columns are called where they take turns. */
const TABS: Record<StageWithDesk, readonly [left: string, middle: string, right: string]> = {
  tracks: ['Filters', 'Tracks', 'Inspector'],
  clean: ['Steps', 'Tracks', 'Inspector'],
  catalogue: ['Albums', 'Tracks', 'Inspector'],
  arrange: ['Lists', 'Tracks', 'Inspector'],
  disk: ['Look at', 'Files', 'Inspector'],
  handover: ['Destinations', 'Details', 'Apply'],
  take: ['Lists', 'Tracks', 'Basket'],
};

/** On a narrow page the columns take turns. */
function OneAtATime({ stage, left, right, children }: Props) {
  const [shown, setShown] = useState<'left' | 'middle' | 'right'>('middle');
  /** It stays from then on: what was just typed there may not have been asked for yet. */
  const [wasLeft, setWasLeft] = useState(false);
  return (
    <div className="flex h-full flex-col">
      <div className="flex shrink-0 justify-center border-b border-line bg-paper p-1.5 [&_button]:min-h-[36px]">
        <Segmented
          label="Part of the page"
          value={shown}
          choices={[
            ['left', TABS[stage][0]],
            ['middle', TABS[stage][1]],
            ['right', TABS[stage][2]],
          ]}
          onChoose={(part) => {
            setShown(part);
            if (part === 'left') setWasLeft(true);
          }}
        />
      </div>
      <div className="min-h-0 flex-1">
        {wasLeft && (
          <div hidden={shown !== 'left'} className="h-full">
            {left.content}
          </div>
        )}
        {shown === 'right' && right.content}
        {shown === 'middle' && children}
      </div>
    </div>
  );
}

const LINE = 'w-px bg-line hover:bg-tide-deep data-[separator=active]:bg-buoy';

const fold = (panel: PanelImperativeHandle | null): void => {
  if (panel?.isCollapsed()) panel.expand();
  else panel?.collapse();
};

function Columns({ stage, left, right, middleMin, children }: Props) {
  const name = widthsName(stage);
  // the widths at the start; later ones are only kept
  const [first] = useState(() => remembered<DeskWidths>(name, AS_DRAWN));
  const leftPanel = usePanelRef(),
    rightPanel = usePanelRef();
  const keep =
    (side: 'left' | 'right') =>
    (size: { inPixels: number }): void => {
      const width = Math.round(size.inPixels);
      const now = remembered<DeskWidths>(name, AS_DRAWN); // both sides may report in one moment
      if (now[side] !== width) write(name, { ...now, [side]: width });
    };
  useKeys('columns', {
    left: { run: () => fold(leftPanel.current), label: `Fold or open the ${left.what}` },
    right: { run: () => fold(rightPanel.current), label: `Fold or open the ${right.what}` },
  });
  const shared = { collapsible: true, collapsedSize: 0, groupResizeBehavior: 'preserve-pixel-size' } as const;
  return (
    <Group orientation="horizontal" id={`${stage}-desk`} className="h-full">
      <Panel
        {...shared}
        id="left"
        panelRef={leftPanel}
        defaultSize={first.left ?? left.width}
        minSize={left.min}
        maxSize={left.max}
        onResize={keep('left')}
      >
        {left.content}
      </Panel>
      <Separator className={LINE} aria-label={`Width of the ${left.what}`} />
      <Panel id="middle" minSize={middleMin}>
        {children}
      </Panel>
      <Separator className={LINE} aria-label={`Width of the ${right.what}`} />
      <Panel
        {...shared}
        id="right"
        panelRef={rightPanel}
        defaultSize={first.right ?? right.width}
        minSize={right.min}
        maxSize={right.max}
        onResize={keep('right')}
      >
        {right.content}
      </Panel>
    </Group>
  );
}
