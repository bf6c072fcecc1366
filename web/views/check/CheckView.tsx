/** Trust, but check: the least certain results one after the other, judged by ear and by single keys. */
import { useMemo, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import type { Applied, CheckWhat, SheetRow } from '@early-set/core/api/types';
import { useKeys, type KeyActions } from '../../commands/commands.ts';
import { change } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useAsked } from '../../data/asked.ts';
import { rounded, setField } from '../../data/fields.ts';
import { useCheckList, useTrack } from '../../data/hooks.ts';
import { useRemembered } from '../../data/remembered.ts';
import { Empty, Trouble } from '../../ui/Empty.tsx';
import { Segmented } from '../../ui/Segmented.tsx';
import { textOf } from '../../ui/format.ts';
import { OneByOneLayout } from '../oneByOne/OneByOneLayout.tsx';
import { useOneByOne } from '../oneByOne/useOneByOne.ts';
import { confidenceOf, Judge } from './Judge.tsx';

const NONE: SheetRow[] = [];
const WHATS = [
  ['tempo', 'Tempo'],
  ['key', 'Key'],
] as const;
const LEVELS = [0.5, 0.7, 0.8, 0.9, 0.95];

export function CheckView() {
  const [params, setParams] = useSearchParams();
  const what: CheckWhat = params.get('what') === 'key' ? 'key' : 'tempo';
  const [below, setBelow] = useRemembered<number>('checkBelow', 0.8);
  const { data, error } = useCheckList(what, below);
  // While another list is on its way, the former one is still there.
  const list = data?.what === what && data.below === below ? data : undefined;
  // The order stays as it was on coming here; what has been judged keeps its place with a tick.
  const [order, setOrder] = useState<{ of: string; rows: SheetRow[] } | null>(null);
  const of = `${what} ${below}`;
  if (list && order?.of !== of) setOrder({ of, rows: list.rows });
  const rows = order?.of === of ? order.rows : NONE;
  const asked = useAsked(list?.rows ?? NONE);
  const open = useMemo(() => new Set(list?.rows.map((r) => r.id)), [list]);
  const tracks = useOneByOne(`check ${of}`, rows);
  const { at, row } = tracks;
  const { data: track } = useTrack(row?.id ?? null);
  const current = track && row && track.id === row.id ? track : null;
  const navigate = useNavigate();
  // What the list says is enough to judge by: no key is lost while the rest of the track is on its way.
  const inList = list?.rows.find((r) => r.id === row?.id);
  const now = (current ?? (inList && asked(inList)))?.values;
  const judge = async (how: 'keep' | number): Promise<void> => {
    if (!row || !now) return;
    const field = what === 'tempo' ? 'bpm' : 'key';
    // On at once, so that the next key is for the next track; back when it could not be done.
    tracks.go(1);
    const done =
      how === 'keep'
        ? await change(
            post<Applied>('/locks', { selection: { ids: [row.id] }, field, locked: true }),
            `${textOf(field, now[field])} kept`,
          )
        : await setField(row, 'bpm', rounded(Number(now.bpm) * how, 2));
    if (!done) tracks.choose(row.id);
  };
  const noRow = !row,
    noTempo = what !== 'tempo' || now === undefined;
  useKeys('audition', {
    play: { run: tracks.toggle, disabled: noRow },
    next: { run: () => tracks.go(1), disabled: noRow },
    previous: { run: () => tracks.go(-1), disabled: noRow },
  });
  const keys: KeyActions<'check'> = {
    keep: { run: () => void judge('keep'), disabled: !now },
    half: { run: () => void judge(0.5), disabled: noTempo },
    double: { run: () => void judge(2), disabled: noTempo },
    down: { run: () => tracks.go(1), disabled: at >= rows.length - 1 },
    up: { run: () => tracks.go(-1), disabled: at === 0 },
    open: { run: () => void navigate(`/tracks/${row!.id}/sound`), disabled: noRow },
    leave: { run: tracks.leave },
  };
  useKeys('check', keys);

  if (error && !list) return <Trouble error={error} />;
  const judgedCount = rows.filter((r) => !open.has(r.id)).length;
  return (
    <OneByOneLayout
      title="Check what is least certain"
      label="To check"
      count={list ? `${list.total.toLocaleString('en-GB')} left${judgedCount ? `, ${judgedCount} judged` : ''}` : ''}
      rows={rows}
      tracks={tracks}
      judged={(r) => !open.has(r.id)}
      beside={(r) => (
        <>
          <span className="figures w-[62px] text-right">
            {what === 'tempo' ? textOf('bpm', r.values.bpm) : textOf('key', r.values.key)}
          </span>
          <span className="figures w-[34px] text-right text-small text-dim" title="Confidence">
            {confidenceOf(r, what)}
          </span>
        </>
      )}
      options={
        <>
          <Segmented label="What to check" value={what} choices={WHATS} onChoose={(w) => setParams({ what: w })} />
          <label className="flex items-center gap-1.5 text-small">
            confidence below
            <select
              value={below}
              onChange={(e) => setBelow(Number(e.target.value))}
              className="min-h-[26px] rounded-xs border border-line bg-paper px-1"
            >
              {LEVELS.map((l) => (
                <option key={l} value={l}>
                  {l.toFixed(2)}
                </option>
              ))}
            </select>
          </label>
        </>
      }
      nothing={
        list &&
        rows.length === 0 && (
          <Empty title="Nothing to check">
            <p>Every measured {what} has at least that confidence, was set by hand, or is locked.</p>
          </Empty>
        )
      }
    >
      {current?.analysis && (
        <Judge
          key={`${current.id} ${what}`}
          track={current}
          what={what}
          tracks={tracks}
          last={at >= rows.length - 1}
          keys={keys}
        />
      )}
    </OneByOneLayout>
  );
}
