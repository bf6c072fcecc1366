/** An hour of radio: along its time, its items, what is wrong, and what could be done about it. */
import { isOnTime, overOrUnder } from '@early-set/core/hours/words';
import { useEffect, useState } from 'react';
import { createPortal } from 'react-dom';
import type { HourContents, HourFilling } from '@early-set/core/api/hours';
import type { Applied, ListContents } from '@early-set/core/api/types';
import { clockLength } from '@early-set/core/clock/clock';
import { useCommands } from '../../commands/commands.ts';
import { change, perform, several } from '../../data/actions.ts';
import { get, patch, post } from '../../data/api.ts';
import { useHour } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Menu } from '../../ui/Menu.tsx';
import { Empty, Trouble } from '../../ui/Empty.tsx';
import { ExportDialog } from '../lists/ExportDialog.tsx';
import { HourPanel } from './HourPanel.tsx';
import { HourStrip } from './HourStrip.tsx';
import { HourTable } from './HourTable.tsx';
import { INSTEAD_ID } from './InsteadPanel.tsx';
import { useHourChoice } from './useHourChoice.ts';

interface Props {
  /** The same hour as a list, for its export. */
  list: ListContents;
  /** Where what is said of it is shown. */
  side: HTMLElement | null;
}

export function HourView({ list, side }: Props) {
  const { data, error } = useHour(list.id);
  // While another hour is on its way, the one before is still told.
  if (data?.id === list.id) return <Hour key={list.id} hour={data} list={list} side={side} />;
  return error ? <Trouble error={error} /> : <div aria-busy="true" className="h-full bg-sheet" />;
}

function Hour({ hour, list, side }: Props & { hour: HourContents }) {
  const [draft, setDraft] = useState<HourFilling | null>(null);
  const [filling, setFilling] = useState(false);
  const [exporting, setExporting] = useState(false);
  const choice = useHourChoice(hour, () =>
    document.querySelector<HTMLElement>(`#${INSTEAD_ID} [data-instead]`)?.focus(),
  );
  const open = hour.lines.filter((l) => l.kind === 'open').length;
  const { info } = hour;
  const nextOpen = (): void => {
    const at = hour.lines.flatMap((l, i) => (l.kind === 'open' ? [i] : []));
    const next = at.find((i) => i > (choice.chosen.focus ?? -1)) ?? at[0];
    if (next !== undefined) choice.choose(next, 'one');
  };
  // With nothing else in hand, keys are for the hour that was opened.
  useEffect(() => {
    if (document.activeElement === document.body) document.getElementById('hour-items')?.focus();
  }, []);
  const fill = async (): Promise<void> => {
    setFilling(true);
    const found = await perform(get<HourFilling>(`/hours/${hour.id}/filling`));
    setFilling(false);
    if (found) setDraft(found);
  };
  const apply = async (): Promise<void> => {
    if (!draft) return;
    const places = draft.places.map(({ entryId, trackId, to }) => ({ entryId, trackId, to }));
    if (await change(post<Applied>(`/hours/${hour.id}/places`, { places, ends: draft.ends }))) setDraft(null);
  };
  const order = (as: string): string => `/api/hours/${hour.id}/running-order/${as}`;
  const orderItems = [
    { label: 'Print or send', run: () => void window.open(order('html'), '_blank', 'noopener') },
    { label: 'Download as text', apart: true, run: () => window.location.assign(order('txt')) },
    { label: 'Download as CSV', run: () => window.location.assign(order('csv')) },
    { label: 'Download as workbook', run: () => window.location.assign(order('xlsx')) },
    { label: 'Export its tracks as a list…', apart: true, run: () => setExporting(true) },
  ];
  useCommands([
    ...orderItems.slice(0, -1).map(({ label, run }) => ({
      id: `order-${label}`,
      label: `Running order: ${label.toLowerCase()}`,
      group: 'Arrange',
      run,
    })),
    ...(open > 0 ? [{ id: 'fill-hour', label: 'Fill open slots', group: 'Arrange', run: () => void fill() }] : []),
    { id: 'export', label: `Export ${info.name}`, group: 'Arrange', run: () => setExporting(true) },
  ]);
  return (
    <div className="flex h-full flex-col bg-sheet">
      <div className="flex min-h-[50px] shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-b border-line bg-paper px-3.5 py-2">
        <h1 className="heading max-w-full min-w-0 truncate text-[19px]" title={info.name}>
          {info.name}
        </h1>
        <span className="figures shrink-0 text-small text-dim" data-testid="hour-length">
          {several(hour.lines.length, 'item')} · {clockLength(hour.seconds + hour.off)} ·{' '}
          <span className={isOnTime(hour.off) ? 'text-kelp' : 'text-flare'}>{overOrUnder(hour.off)}</span>
          {open > 0 && (
            <>
              {' · '}
              <button
                type="button"
                title="Go to the next one"
                onClick={nextOpen}
                className="text-sodium-text hover:underline"
              >
                {several(open, 'open slot')}
              </button>
            </>
          )}
        </span>
        <span className="flex-1" />
        {info.removed && (
          <Button onClick={() => void change(patch<Applied>(`/lists/${hour.id}`, { removed: false }))}>Restore</Button>
        )}
        <Menu items={orderItems}>
          <Button disabled={hour.lines.length === 0}>Running order</Button>
        </Menu>
        <Button kind="main" disabled={open === 0 || filling || draft !== null} onClick={() => void fill()}>
          {filling ? 'Filling…' : 'Fill open slots'}
        </Button>
      </div>
      {hour.lines.length > 0 ? (
        <>
          <HourStrip hour={hour} inHand={choice.chosen.focus} onChoose={(i) => choice.choose(i, 'one')} />
          <div className="min-h-0 flex-1">
            <HourTable hour={hour} choice={choice} draft={draft} />
          </div>
        </>
      ) : (
        <Empty title="This hour is empty">
          <p>Its format clock has no items, or all were removed. Undo brings them back.</p>
        </Empty>
      )}
      {side &&
        createPortal(
          <HourPanel
            hour={hour}
            inHand={choice.inHand}
            draft={draft}
            onApply={() => void apply()}
            onDiscard={() => setDraft(null)}
          />,
          side,
        )}
      <ExportDialog list={list} open={exporting} onClose={() => setExporting(false)} />
    </div>
  );
}
