/** Trust, but check: the least certain results one after the other, judged by ear and by single keys. */
import { ArrowLeft } from 'lucide-react';
import { useMemo, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import type { Applied, CheckWhat, SheetRow } from '@early-set/core/api/types';
import { useCommands, useKeys } from '../../app/commands.ts';
import { audition, seek, toggleAudition, usePlayer } from '../../audition/player.ts';
import { change } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useAsked } from '../../data/asked.ts';
import { rounded, setField } from '../../data/fields.ts';
import { useCheckList, useTrack } from '../../data/hooks.ts';
import { useRemembered } from '../../data/remembered.ts';
import { Empty, Trouble } from '../../ui/Empty.tsx';
import { textOf } from '../../ui/format.ts';
import { Judge } from './Judge.tsx';
import { CheckLine } from './CheckLine.tsx';

const NONE: SheetRow[] = [];
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
  const [chosen, setChosen] = useState<number | null>(null);
  const at = Math.max(
    0,
    rows.findIndex((r) => r.id === chosen),
  );
  const row = rows[at];
  const { data: track } = useTrack(row?.id ?? null);
  const current = track && row && track.id === row.id ? track : null;
  const navigate = useNavigate();
  const player = usePlayer();
  const [listens, setListens] = useRemembered<boolean>('checkListens', true);
  const playing = player.playing && player.track?.id === row?.id;

  const go = (step: number): void => {
    const next = rows[Math.max(0, Math.min(rows.length - 1, at + step))];
    if (!next || next.id === row?.id) return;
    setChosen(next.id);
    if (listens) hear(next);
  };
  const hear = (next: SheetRow): void => {
    audition(next);
    seek(Number(next.values.durationSeconds ?? 0) * 0.35);
  };
  // What the list says is enough to judge by: no key is lost while the rest of the track is on its way.
  const inList = list?.rows.find((r) => r.id === row?.id);
  const now = (current ?? (inList && asked(inList)))?.values;
  const judge = async (how: 'keep' | number): Promise<void> => {
    if (!row || !now) return;
    const field = what === 'tempo' ? 'bpm' : 'key';
    // On at once, so that the next key is for the next track; back when it could not be done.
    go(1);
    const done =
      how === 'keep'
        ? await change(
            post<Applied>('/locks', { selection: { ids: [row.id] }, field, locked: true }),
            `${textOf(field, now[field])} kept`,
          )
        : await setField(row, 'bpm', rounded(Number(now.bpm) * how, 2));
    if (!done) setChosen(row.id);
  };
  const canScale = what === 'tempo' && now !== undefined;
  const actions = [
    {
      key: ' ',
      label: playing ? 'Pause' : 'Audition',
      keys: 'Space',
      run: () => {
        if (row) {
          if (player.track?.id === row.id) toggleAudition(row);
          else hear(row);
        }
      },
      off: !row,
    },
    { key: 'k', label: 'Keep it', keys: 'K', run: () => void judge('keep'), off: !now },
    { key: 'h', label: 'Half the tempo', keys: 'H', run: () => void judge(0.5), off: !canScale },
    { key: 'd', label: 'Double the tempo', keys: 'D', run: () => void judge(2), off: !canScale },
    { key: 'n', label: 'Next', keys: 'N', run: () => go(1), off: at >= rows.length - 1 },
    { key: 'ArrowDown', label: 'Next', keys: '↓', run: () => go(1), off: at >= rows.length - 1 },
    { key: 'p', label: 'Previous', keys: 'P', run: () => go(-1), off: at === 0 },
    { key: 'ArrowUp', label: 'Previous', keys: '↑', run: () => go(-1), off: at === 0 },
    {
      key: 'Enter',
      label: 'Open its sound',
      keys: 'Enter',
      run: () => {
        if (row) void navigate(`/tracks/${row.id}/sound`);
      },
      off: !row,
    },
    { key: 'Escape', label: 'Back to the tracks', keys: 'Esc', run: () => void navigate('/tracks'), off: false },
  ];
  useCommands(
    actions
      .filter((a) => !a.key.startsWith('Arrow'))
      .map((a) => ({
        id: `check-${a.label}`,
        label: a.label,
        keys: a.keys,
        group: 'Check',
        run: a.run,
        disabled: a.off,
      })),
  );
  useKeys((e) => {
    if ((e.key === ' ' || e.key === 'Enter') && e.target instanceof HTMLElement && e.target.closest('button, a'))
      return;
    const action = actions.find((a) => a.key === e.key || a.key === e.key.toLowerCase());
    if (!action || action.off) return;
    e.preventDefault();
    action.run();
  });

  if (error && !list) return <Trouble error={error} />;
  const judged = rows.filter((r) => !open.has(r.id)).length;
  return (
    <div className="flex h-full flex-col bg-fog">
      <header className="flex min-h-[50px] flex-wrap items-center gap-3 border-b border-line bg-paper px-3.5 py-2">
        <button
          type="button"
          aria-label="Back to the tracks"
          onClick={() => void navigate('/tracks')}
          className="rounded-xs p-1.5 text-dim hover:bg-hair hover:text-ink"
        >
          <ArrowLeft size={16} />
        </button>
        <h1 className="heading text-[17px]">Check what is least certain</h1>
        <span className="text-small text-dim" aria-live="polite">
          {list ? `${list.total.toLocaleString('en-GB')} left${judged ? `, ${judged} judged` : ''}` : ''}
        </span>
        <span className="flex-1" />
        <div role="radiogroup" aria-label="What to check" className="flex border border-line">
          {(['tempo', 'key'] as const).map((w) => (
            <button
              key={w}
              type="button"
              role="radio"
              aria-checked={what === w}
              onClick={() => setParams({ what: w })}
              className={`px-2.5 py-1 text-[12.5px] font-semibold ${what === w ? 'bg-inverse text-inverse-ink' : 'hover:bg-hair'}`}
            >
              {w === 'tempo' ? 'Tempo' : 'Key'}
            </button>
          ))}
        </div>
        <label className="flex items-center gap-1.5 text-small">
          less sure than
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
        <label className="flex items-center gap-1.5 text-small">
          <input
            type="checkbox"
            checked={listens}
            onChange={(e) => setListens(e.target.checked)}
            className="accent-ink"
          />
          audition on going on
        </label>
      </header>
      {list && rows.length === 0 ? (
        <Empty title="Nothing to check">
          <p>Every measured {what} is at least that sure, set by hand, or locked.</p>
        </Empty>
      ) : (
        <div className="flex min-h-0 flex-1">
          <ol aria-label="To check" className="w-[330px] shrink-0 overflow-y-auto border-r border-line bg-sheet">
            {rows.map((r, i) => (
              <CheckLine
                key={r.id}
                row={r}
                what={what}
                chosen={i === at}
                judged={!open.has(r.id)}
                onChoose={() => {
                  setChosen(r.id);
                  if (listens) hear(r);
                }}
              />
            ))}
          </ol>
          <div className="min-w-0 flex-1 overflow-y-auto p-5">
            {current?.analysis && (
              <Judge key={`${current.id} ${what}`} track={current} what={what} playing={playing} actions={actions} />
            )}
          </div>
        </div>
      )}
    </div>
  );
}
