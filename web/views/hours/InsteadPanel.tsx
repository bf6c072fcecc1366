/** What could go to a place of an hour, and how early or late that would be. */
import { useLayoutEffect } from 'react';
import { isOnTime, timeOnAir } from '@early-set/core/hours/words';
import type { HourLine, InsteadLine } from '@early-set/core/api/hours';
import type { Applied } from '@early-set/core/api/types';
import { clockLength } from '@early-set/core/clock/clock';
import { change } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useInstead } from '../../data/hooks.ts';
import { signedLength } from './hourText.ts';
import { auditionById } from '../../audition/auditionById.ts';

/** By this its first line is reached by key. */
export const INSTEAD_ID = 'instead-list';

/** Arrows go along the lines. */
function walk(e: React.KeyboardEvent<HTMLElement>): void {
  const by = e.key === 'ArrowDown' ? 1 : e.key === 'ArrowUp' ? -1 : 0;
  if (by === 0) return;
  const lines = [...e.currentTarget.querySelectorAll<HTMLElement>('[data-instead]')],
    at = lines.indexOf(document.activeElement as HTMLElement);
  e.preventDefault();
  lines[Math.max(0, Math.min(lines.length - 1, at + by))]?.focus();
}

/** Lines that come in another order lose the focus of the page: it goes back to its line, or to the first. */
function useFocusKept(): void {
  const line = document.activeElement?.closest<HTMLElement>(`#${INSTEAD_ID} [data-instead]`),
    was = line?.dataset.instead;
  useLayoutEffect(() => {
    if (was === undefined || document.activeElement !== document.body) return;
    const lines = [...document.querySelectorAll<HTMLElement>(`#${INSTEAD_ID} [data-instead]`)];
    (lines.find((one) => one.dataset.instead === was) ?? lines[0])?.focus();
  });
}

export function InsteadPanel({ hourId, line }: { hourId: string; line: HourLine }) {
  useFocusKept();
  const { data: told, error } = useInstead(hourId, line.entryId);
  // While the answer for this place is on its way, that for another is still told.
  const data = told?.entryId === line.entryId ? told : undefined;
  const take = (trackId: number): void => {
    const places = [{ entryId: line.entryId, trackId, to: null }];
    void change(post<Applied>(`/hours/${hourId}/places`, { places })).then((done) => {
      if (done) document.getElementById('hour-items')?.focus();
    });
  };
  return (
    <section aria-label="Tracks that land on time">
      <h2 className="heading text-[17px]">Tracks that land on time</h2>
      <p className="mt-1 text-dim">
        {line.kind === 'open' ? (
          <>
            For the open slot <b className="text-ink">{line.name}</b>
          </>
        ) : (
          <>
            In the place of <b className="text-ink">{line.name}</b>
          </>
        )}
        {data &&
          `, so that ${/^end of/.test(data.next.name) ? `the ${data.next.name}` : `“${data.next.name}”`} comes at ${timeOnAir(data.next.at)}`}
        . A double click or Enter takes one.
      </p>
      {error && <p className="mt-2 text-flare">{error.message}</p>}
      {data?.tracks.length === 0 && <p className="mt-2 text-dim">No track is left that this slot takes.</p>}
      <ul id={INSTEAD_ID} aria-label="Tracks for this place" className="mt-1" onKeyDown={walk}>
        {data?.tracks.map((track) => (
          <Track key={track.trackId} track={track} onTake={() => take(track.trackId)} />
        ))}
      </ul>
    </section>
  );
}

function Track({ track, onTake }: { track: InsteadLine; onTake: () => void }) {
  const { title, artist, seconds, off, broken, hard, trackId } = track;
  return (
    <li className="border-b border-line">
      <button
        type="button"
        data-instead={trackId}
        aria-label={`${title}, ${signedLength(off)}${broken.length ? `, breaks: ${broken.join(', ')}` : ''}: take it`}
        onDoubleClick={onTake}
        onKeyDown={(e) => {
          if (e.key === 'Enter') onTake();
          else if (e.key === ' ') auditionById(trackId);
          else return;
          e.preventDefault();
          e.stopPropagation();
        }}
        className="w-full py-1.5 text-left"
      >
        <span className="flex items-baseline gap-2">
          <span className="min-w-0 flex-1 truncate font-semibold">{title}</span>
          <span className="figures text-dim">{clockLength(seconds)}</span>
          <span
            className={`figures w-[52px] text-right font-semibold ${isOnTime(off) ? 'text-kelp' : Math.abs(off) > 30 ? 'text-flare' : ''}`}
          >
            {signedLength(off)}
          </span>
        </span>
        <span className="block truncate text-small text-dim">{artist}</span>
        {broken.map((text) => (
          <span key={text} className={`block text-tiny ${hard ? 'text-flare' : 'text-sodium-text'}`}>
            breaks: {text}
          </span>
        ))}
      </button>
    </li>
  );
}
