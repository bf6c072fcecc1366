/** What is spoken, or a jingle, in hand: its name, length, and what it lies over. */
import { KIND_NAMES } from '@early-set/core/hours/words';
import type { HourLine } from '@early-set/core/api/hours';
import type { Applied } from '@early-set/core/api/types';
import type { EntryData } from '@early-set/core/changes/snapshot';
import { clockLength, readLength } from '@early-set/core/clock/clock';
import { change } from '../../data/actions.ts';
import { patch, put } from '../../data/api.ts';
import { useStationFiles } from '../../data/hooks.ts';
import { SavedInput } from '../../ui/form/SavedInput.tsx';

type Wish = { [K in keyof EntryData]?: EntryData[K] | null };

/** A length as it is typed; nothing where it was emptied. */
const readSeconds = (text: string): number | null | undefined => (text === '' ? null : (readLength(text) ?? undefined));

export function ItemPanel({ hourId, line }: { hourId: string; line: HourLine }) {
  const say = (wish: Wish): void => void change(patch<Applied>(`/lists/${hourId}/entries/${line.entryId}`, wish));
  const wide = 'min-w-0 flex-1';
  return (
    <section aria-label="Item in hand" className="flex flex-col gap-2">
      <h2 className="heading text-[17px]">{line.name}</h2>
      <p className="text-dim">{KIND_NAMES[line.kind]}</p>
      <label className="flex items-center gap-2">
        <span className="w-[92px]">{line.kind === 'note' ? 'Text' : 'Name'}</span>
        <SavedInput
          value={line.name}
          text={(t) => t}
          read={(t) => t || undefined}
          onSave={(text) => say({ text })}
          words
          className={wide}
        />
      </label>
      {line.kind !== 'note' && (
        <>
          <FileOf hourId={hourId} line={line} />
          <label className="flex items-center gap-2">
            <span className="flex-1">Length</span>
            <SavedInput
              value={line.seconds}
              text={clockLength}
              read={(text) => readLength(text) || undefined}
              onSave={(seconds) => say({ seconds })}
            />
          </label>
          <label className="flex items-center gap-2">
            <span className="flex-1">Over the intro of the next</span>
            <SavedInput
              value={line.overIntro}
              text={clockLength}
              read={readSeconds}
              onSave={(overIntro) => say({ overIntro })}
              placeholder="none"
            />
          </label>
          <label className="flex items-center gap-2">
            <span className="w-[92px]">Bed under it</span>
            <SavedInput
              value={line.bed}
              text={(t) => t}
              read={(t) => t || null}
              onSave={(bed) => say({ bed })}
              placeholder="none"
              words
              className={wide}
            />
          </label>
          <label className="flex items-center gap-2">
            <span className="w-[92px]">Last words</span>
            <SavedInput
              value={line.out}
              text={(t) => t}
              read={(t) => t || null}
              onSave={(out) => say({ out })}
              placeholder="none"
              words
              className={wide}
            />
          </label>
          <label className="flex items-center gap-2">
            <span className="w-[92px]">Note</span>
            <SavedInput
              value={line.remark}
              text={(t) => t}
              read={(t) => t || null}
              onSave={(remark) => say({ remark })}
              placeholder="none"
              words
              className={wide}
            />
          </label>
        </>
      )}
    </section>
  );
}

/** The file from which an item is played; none of what is said live. */
function FileOf({ hourId, line }: { hourId: string; line: HourLine }) {
  const { data: files = [] } = useStationFiles();
  const { trackId, file } = line;
  const choose = (id: string): void =>
    void change(
      put<Applied>(`/hours/${hourId}/items/${line.entryId}/file`, { trackId: id === '' ? null : Number(id) }),
    );
  const isListed = files.some((f) => f.id === trackId);
  return (
    <label className="flex items-center gap-2">
      <span className="w-[92px]">File</span>
      <select
        value={trackId ?? ''}
        onChange={(e) => choose(e.target.value)}
        className="min-w-0 flex-1 rounded-xs border border-line bg-sheet px-1.5 py-1"
      >
        <option value="">none</option>
        {trackId !== null && !isListed && <option value={trackId}>{file ?? 'not found'}</option>}
        {files.map((f) => (
          <option key={f.id} value={f.id}>
            {f.title}, {clockLength(f.seconds)}
          </option>
        ))}
      </select>
    </label>
  );
}
