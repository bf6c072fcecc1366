/** Beside what is not found: the track in hand, what it could be, and the draft. */
import { format, parseISO } from 'date-fns';
import { Play } from 'lucide-react';
import type { ReactNode } from 'react';
import type { FoundFile, FoundLine, NotFoundLine } from '@early-set/core/api/disk';
import { several } from '../../data/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { auditionById } from '../../audition/auditionById.ts';
import { DraftCard } from './DraftCard.tsx';
import { MissingFolders } from './MissingFolders.tsx';
import type { Finding } from './useFinding.ts';

interface PanelProps {
  lines: readonly NotFoundLine[];
  /** The folder that alone is shown. */
  only: string | null;
  onOnly: (folder: string | null) => void;
  inHand: NotFoundLine | undefined;
  finding: Finding;
}

export function NotFoundPanel({ lines, only, onOnly, inHand, finding }: PanelProps) {
  return (
    <aside aria-label="About missing files" className="flex h-full flex-col gap-4 overflow-y-auto bg-paper p-3.5">
      {inHand ? (
        <InHand line={inHand} finding={finding} />
      ) : (
        <section>
          <h2 className="heading text-[17px]">Find again</h2>
          <p className="mt-1 text-dim">
            Early Set looks among all files of the library by sound, name, length and tags. Lists, cues and what was
            typed stay with the track; no file is moved.
          </p>
        </section>
      )}
      {lines.length > 0 && <MissingFolders lines={lines} only={only} onOnly={onOnly} />}
      {finding.lines && (
        <DraftCard
          label="Draft of what was found"
          title={finding.count === 0 ? 'No file was found' : `${several(finding.count, 'track')} found again`}
          note={
            finding.count === 0
              ? 'If it lies in a folder that is not taken in yet, look in that folder.'
              : 'Each is tied to the file that is there now. Nothing is moved or written.'
          }
          disabled={finding.count === 0}
          onDiscard={finding.discard}
          onApply={finding.apply}
        />
      )}
    </aside>
  );
}

function InHand({ line, finding }: { line: NotFoundLine; finding: Finding }) {
  const asked = finding.lines?.get(line.trackId);
  const chosen = finding.chosen(line.trackId);
  return (
    <section aria-label="Track in hand" className="flex flex-col gap-2">
      <h2 className="heading text-[17px]">{line.title || line.path.split('/').at(-1)}</h2>
      <p className="text-dim">{[line.artist, line.version].filter(Boolean).join(' · ')}</p>
      <dl className="flex flex-col">
        <Fact name="Was at">{line.path}</Fact>
        <Fact name="In">{line.root}</Fact>
        <Fact name="Missing since">{format(parseISO(line.since), 'd MMM yyyy, HH:mm')}</Fact>
        <Fact name="Lists">{line.lists.join(', ') || 'none'}</Fact>
        {line.date && <Fact name="Date">{`${line.date.name}, ${format(parseISO(line.date.day), 'EEE d MMM')}`}</Fact>}
      </dl>
      {asked && <Choices trackId={line.trackId} asked={asked} chosen={chosen} finding={finding} />}
    </section>
  );
}

const Fact = ({ name, children }: { name: string; children: ReactNode }) => (
  <div className="flex gap-2 border-b border-hair py-[3px]">
    <dt className="w-[104px] shrink-0 text-dim">{name}</dt>
    <dd className="min-w-0 break-words">{children}</dd>
  </div>
);

interface ChoicesProps {
  trackId: number;
  asked: FoundLine;
  chosen: FoundFile | null;
  finding: Finding;
}

function Choices({ trackId, asked, chosen, finding }: ChoicesProps) {
  const files = [...(asked.found ? [asked.found] : []), ...asked.candidates];
  return (
    <fieldset>
      <legend className="mb-1 text-small font-semibold text-dim">Which file it is</legend>
      {[...files, null].map((file) => (
        <label key={file?.trackId ?? 0} className="flex items-start gap-2 border-b border-hair py-1.5">
          <input
            type="radio"
            name={`found-${trackId}`}
            className="mt-0.5 accent-buoy"
            checked={chosen?.trackId === file?.trackId}
            onChange={() => finding.choose(trackId, file)}
          />
          {file ? <FileLine file={file} /> : <span className="text-dim">None of these</span>}
        </label>
      ))}
      {asked.others.length > 0 && (
        <>
          <h3 className="mt-2.5 mb-1 text-small font-semibold text-dim">Looks like it, and is not</h3>
          {asked.others.map((other) => (
            <p key={other.trackId} className="flex gap-2 border-b border-hair py-1.5">
              <span className="min-w-0 flex-1 break-words">
                {other.path}
                <span className="block text-small text-dim">{other.why}</span>
              </span>
              <HearButton trackId={other.trackId} path={other.path} />
            </p>
          ))}
        </>
      )}
    </fieldset>
  );
}

const FileLine = ({ file }: { file: FoundFile }) => (
  <>
    <span className="min-w-0 flex-1 break-words" title={file.root}>
      {file.path}
      <span className="block text-small text-dim">
        {file.by}, {Math.round(file.sure * 100)} % confidence
        {Math.abs(file.offsetSeconds) >= 0.25 && (
          <>
            ; begins {Math.abs(file.offsetSeconds).toFixed(1)} s {file.offsetSeconds > 0 ? 'later' : 'earlier'}, cues
            move along
          </>
        )}
      </span>
    </span>
    <HearButton trackId={file.trackId} path={file.path} />
  </>
);

const HearButton = ({ trackId, path }: { trackId: number; path: string }) => (
  <Button
    kind="quiet"
    aria-label={`Audition ${path}`}
    onClick={(e) => {
      e.preventDefault(); // hearing is not choosing
      auditionById(trackId);
    }}
  >
    <Play size={13} />
  </Button>
);
