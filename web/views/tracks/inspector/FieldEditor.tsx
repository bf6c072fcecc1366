/**
 * Fields of the track in hand: read, typed over, locked. With several chosen, what they share is shown, and what is
 * typed goes to all of them.
 */
import { Lock, LockOpen } from 'lucide-react';
import { useState } from 'react';
import type { Applied, Selection, SharedValue, TrackDetails } from '@early-set/core/api/types';
import { FIELDS, type Field } from '@early-set/core/fields/table';
import { isEmpty, type Origin } from '@early-set/core/fields/values';
import { change } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { useShared } from '../../../data/hooks.ts';
import { dayAndTime, plainText, valueText } from '../../../ui/format.ts';
import { Hint } from '../../../ui/Hint.tsx';
import { Stars } from '../../../ui/Stars.tsx';
import { TypeAhead } from '../../../ui/TypeAhead.tsx';
import { CopyMenu } from './CopyMenu.tsx';
import { OtherInFile } from './OtherInFile.tsx';

/** Shown although empty, because they are filled so often. */
const ALWAYS = new Set([
  'title',
  'version',
  'artist',
  'album',
  'genre',
  'year',
  'moods',
  'freeTags',
  'notes',
  'comment',
  'rating',
  'bpm',
  'key',
  'energy',
]);
const FILE_FIELDS = ['durationSeconds', 'format', 'codec', 'bitrate', 'sampleRate', 'channels', 'fileSize', 'addedAt'];
/** Fields of many tracks that would not be typed at once. */
const SINGLE = new Set([
  'lyrics',
  'cues',
  'gridAnchors',
  'sectionsByHand',
  'gridStartSeconds',
  'introEndSeconds',
  'outroStartSeconds',
  'segueSeconds',
  'audibleStartSeconds',
  'audibleEndSeconds',
  'fileName',
]);

/** A value that was copied from a field, to be put into that field of other tracks. */

/** Origins that are called otherwise than they are kept. */
const ORIGINS: Partial<Record<Origin, string>> = { typed: 'hand', use: 'a date that has passed' };

export function FieldEditor({ track, selection, count }: { track: TrackDetails; selection: Selection; count: number }) {
  const [all, setAll] = useState(false);
  const many = count > 1;
  const { data: shared } = useShared(many ? selection : null);
  const target: Selection = many ? selection : { ids: [track.id] };
  const editable = FIELDS.filter((f) => f.editable && f.id !== 'hearLater' && !(many && SINGLE.has(f.id)));
  const valueOf = (f: Field): SharedValue =>
    many
      ? (shared?.fields[f.id] ?? { same: false, value: null, different: 0 })
      : { same: true, value: track.values[f.id] ?? null, different: 1 };
  const shown = editable.filter(
    (f) => all || ALWAYS.has(f.id) || !isEmpty(valueOf(f).value) || valueOf(f).different > 1,
  );
  return (
    <>
      <dl>
        {shown.map((f) => (
          <Line
            key={`${many ? 'many' : track.id}-${f.id}`}
            field={f}
            track={track}
            target={target}
            many={many}
            shared={valueOf(f)}
          />
        ))}
      </dl>
      <button type="button" onClick={() => setAll(!all)} className="mt-1.5 text-small text-dim hover:text-ink">
        {all ? 'Only the usual fields' : `${editable.length - shown.length} more fields`}
      </button>
      {!many && (
        <dl className="mt-3 border-t border-line pt-2 text-small text-dim">
          {FILE_FIELDS.map((id) => FIELDS.find((f) => f.id === id)!).map(
            (f) =>
              !isEmpty(track.values[f.id]) && (
                <div key={f.id} className="flex py-px">
                  <dt className="w-[74px] shrink-0">{f.label}</dt>
                  <dd className="figures min-w-0 flex-1 truncate text-ink">{valueText(f, track.values[f.id])}</dd>
                </div>
              ),
          )}
          <div className="flex py-px">
            <dt className="w-[74px] shrink-0">Path</dt>
            <dd className="min-w-0 flex-1 break-words text-ink">
              {track.rootPath}/{String(track.values.path)}
            </dd>
          </div>
        </dl>
      )}
    </>
  );
}

function Line({
  field,
  track,
  target,
  many,
  shared,
}: {
  field: Field;
  track: TrackDetails;
  target: Selection;
  many: boolean;
  shared: SharedValue;
}) {
  const [draft, setDraft] = useState<string | null>(null);
  const text = valueText(field, shared.value);
  const held = many ? undefined : track.origins[field.id];
  const locked = held?.locked === true;
  const plain = plainText(field, shared.value);
  const several = many && !shared.same;
  // Only what was touched is changed: leaving a field as it was does nothing, also where tracks differ.
  const save = (now: string): void => {
    setDraft(null);
    if (now.trim() === (several ? '' : plain)) return;
    void change(
      post<Applied>('/fields', { selection: target, field: field.id, value: now.trim() === '' ? null : now }),
    );
  };
  const lines = field.long ? 10 : field.id === 'comment' || field.id === 'notes' ? 3 : 1;
  const box = 'w-full rounded-xs border border-tide-deep bg-sheet px-1.5 py-0.5';
  return (
    <div className="group flex min-h-[24px] items-start gap-0.5 py-px">
      <dt className="w-[74px] shrink-0 truncate pt-[3px] text-small text-dim" title={field.label}>
        {field.label}
      </dt>
      <dd className="min-w-0 flex-1">
        {draft !== null ? (
          lines > 1 ? (
            <textarea
              autoFocus
              rows={lines}
              aria-label={field.label}
              value={draft}
              onChange={(e) => setDraft(e.target.value)}
              onBlur={() => save(draft)}
              onKeyDown={(e) => {
                if (e.key === 'Escape') {
                  e.preventDefault();
                  setDraft(null);
                }
                if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) save(draft);
              }}
              className={box}
            />
          ) : (
            <TypeAhead
              field={field}
              value={draft}
              onChange={setDraft}
              onBlur={() => save(draft)}
              onKey={(e, now) => {
                if (e.key === 'Escape') {
                  e.preventDefault();
                  setDraft(null);
                }
                if (e.key === 'Enter') {
                  e.preventDefault();
                  save(now);
                }
              }}
              className={box}
              {...(several ? { placeholder: `${shared.different} different` } : {})}
            />
          )
        ) : field.id === 'rating' && !several ? (
          <Stars
            value={Number(shared.value ?? 0)}
            onRate={(stars) =>
              void change(post<Applied>('/fields', { selection: target, field: 'rating', value: stars || null }))
            }
          />
        ) : (
          <button
            type="button"
            data-field={field.id}
            disabled={locked}
            onClick={() => setDraft(several ? '' : plain)}
            title={locked ? 'Locked; unlock it to edit' : undefined}
            className="w-full rounded-xs px-1 py-[2px] text-left break-words enabled:hover:bg-hair"
          >
            {several ? (
              <i className="text-dim">several: {shared.different}</i>
            ) : (
              text || (
                <span className={field.gap ? 'text-flare' : 'text-dim'}>
                  {field.gap ? `no ${field.label.toLowerCase()}` : '–'}
                </span>
              )
            )}
          </button>
        )}
        {!many && field.id in track.inFile && (
          <OtherInFile field={field} target={target} said={track.inFile[field.id] ?? null} />
        )}
      </dd>
      <CopyMenu field={field} target={target} shared={shared} />
      {!many && field.kind !== 'file' && (
        <Hint
          text={
            held
              ? `From ${ORIGINS[held.origin] ?? held.origin}, ${dayAndTime(held.at)}${locked ? '. Locked: measuring, tags and other programs cannot change it' : ''}`
              : 'Nothing has filled this yet'
          }
        >
          <button
            type="button"
            aria-label={`${locked ? 'Unlock' : 'Lock'} ${field.label}`}
            aria-pressed={locked}
            onClick={() =>
              void change(post<Applied>('/locks', { selection: target, field: field.id, locked: !locked }))
            }
            className={`p-1 text-dim hover:text-ink focus-visible:opacity-100 ${locked ? '' : 'opacity-0 group-hover:opacity-100'}`}
          >
            {locked ? <Lock size={12} /> : <LockOpen size={12} />}
          </button>
        </Hint>
      )}
    </div>
  );
}
