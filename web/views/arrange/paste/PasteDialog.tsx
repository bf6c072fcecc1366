/** A list by others, pasted or from a file: each line with the track it means, then a playlist of them. */
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Applied, FilledList, MatchedList } from '@early-set/core/api/types';
import { decodeList } from '@early-set/core/exchange/text';
import { endingOf, nameOf } from '@early-set/core/files/paths';
import { change, several } from '../../../data/actions.ts';
import { ApiError, post } from '../../../data/api.ts';
import { Button } from '../../../ui/Button.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';
import { useFileChooser } from '../../../ui/useFileChooser.tsx';
import { MatchedLines } from './MatchedLines.tsx';
import { firstChoices, slotText, type Choices } from './choices.ts';

const ENDINGS = '.m3u,.m3u8,.pls,.xspf,.jspf,.csv,.tsv,.cue,.txt,text/*';
const MAX_BYTES = 1_000_000;

export function PasteDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title="Paste a list"
      note="Each line is matched to a track; what is not here stays as an open slot. A new playlist is made."
      wide
    >
      <Steps onClose={onClose} />
    </Dialog>
  );
}

function Steps({ onClose }: { onClose: () => void }) {
  const [text, setText] = useState('');
  const [source, setSource] = useState({ name: 'Pasted list', ending: 'txt' });
  const [matched, setMatched] = useState<MatchedList | null>(null);
  const [choices, setChoices] = useState<Choices>([]);
  const [busy, setBusy] = useState(false);
  const matching = useRef<AbortController | null>(null);
  // A dialog that is closed waits for nothing.
  useEffect(() => () => matching.current?.abort(), []);
  const [trouble, setTrouble] = useState<string | null>(null);
  const navigate = useNavigate();

  const take = (file: File): void => {
    if (file.size > MAX_BYTES) {
      setTrouble(`${file.name} is too large for a list`);
      return;
    }
    void file.arrayBuffer().then((bytes) => {
      setSource({ name: nameOf(file.name), ending: endingOf(`/${file.name}`).slice(1) });
      setText(decodeList(new Uint8Array(bytes)));
      setTrouble(null);
    });
  };
  const { choose, input } = useFileChooser('List file', ENDINGS, take);
  const match = (): void => {
    setBusy(true);
    setTrouble(null);
    const calledOff = (matching.current = new AbortController()).signal;
    post<MatchedList>('/lists/match', { text, ending: source.ending }, calledOff)
      .then(
        (answer) => {
          setMatched(answer);
          setChoices(firstChoices(answer));
          if (answer.name) setSource({ ...source, name: answer.name });
        },
        (error: unknown) => {
          if (!calledOff.aborted) setTrouble(error instanceof ApiError ? error.message : 'The list could not be read');
        },
      )
      .finally(() => setBusy(false));
  };
  const make = (): void => {
    if (!matched) return;
    const wish: FilledList = {
      name: source.name,
      entries: matched.lines.map(({ entry }, i) => {
        const trackId = choices[i];
        return trackId ? { trackId } : { text: slotText(entry), seconds: entry.seconds };
      }),
    };
    setBusy(true);
    void change(post<Applied & { listId: string }>('/lists/filled', wish)).then((made) => {
      setBusy(false);
      if (!made) return;
      onClose();
      void navigate(`/arrange/${made.listId}`);
    });
  };
  const found = choices.filter((id) => id !== null).length;
  return (
    <form
      className="flex flex-col gap-2.5"
      onSubmit={(e) => {
        e.preventDefault();
        if (matched) make();
        else match();
      }}
      onDrop={(e) => {
        const dropped = e.dataTransfer.files[0];
        if (!dropped || matched) return; // text goes where it is dropped
        e.preventDefault();
        take(dropped);
      }}
    >
      {input}
      {matched ? (
        <>
          <label className="flex items-center gap-2">
            <span className="w-[92px] shrink-0 text-dim">Name</span>
            <input
              value={source.name}
              onChange={(e) => setSource({ ...source, name: e.target.value })}
              className="min-w-0 flex-1 rounded-xs border border-line bg-sheet px-2 py-1"
            />
          </label>
          <MatchedLines matched={matched} choices={choices} onChoose={setChoices} />
          {matched.problems.length > 0 && (
            <details>
              <summary className="cursor-pointer text-sodium-text">
                {several(matched.problems.length, 'line')} could not be used
              </summary>
              <ul className="max-h-24 overflow-auto text-small">
                {matched.problems.map(({ line, reason }, i) => (
                  <li key={i}>
                    {line === null ? '' : `Line ${line}: `}
                    {reason}
                  </li>
                ))}
              </ul>
            </details>
          )}
        </>
      ) : (
        <textarea
          aria-label="The list as text"
          value={text}
          onChange={(e) => setText(e.target.value)}
          placeholder={'Keel Nine - Lamp Room\nVesna Rook - Ferry Clerk'}
          spellCheck={false}
          className="figures h-[260px] rounded-xs border border-line bg-sheet p-2 text-small placeholder:text-dim"
        />
      )}
      {trouble && (
        <p role="alert" className="border-l-[3px] border-flare px-2 py-1">
          {trouble}
        </p>
      )}
      <div className="flex items-center justify-end gap-2">
        {matched ? (
          <>
            <span className="flex-1 text-dim">
              {several(found, 'track')}, {several(choices.length - found, 'open slot')}
            </span>
            <Button onClick={() => setMatched(null)}>Back</Button>
            <Button kind="main" type="submit" disabled={busy || source.name.trim() === ''}>
              Make the playlist
            </Button>
          </>
        ) : (
          <>
            <span className="flex-1 text-small text-dim">
              Lines &quot;artist - title&quot;, or M3U, PLS, XSPF, JSPF, CSV, TSV, CUE sheet: paste, or drop a file
            </span>
            {busy ? (
              <Button onClick={() => matching.current?.abort()}>Cancel</Button>
            ) : (
              <Button onClick={choose}>Choose a file…</Button>
            )}
            <Button kind="main" type="submit" disabled={busy || text.trim() === ''}>
              {busy ? 'Matching…' : 'Match'}
            </Button>
          </>
        )}
      </div>
    </form>
  );
}
