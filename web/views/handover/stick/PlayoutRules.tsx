/** What a playout system asks for, what it would refuse and where that is mended, what it has played; and the draft. */
import type { PlayedRead, StickAnswer } from '@early-set/core/api/stick';
import type { PlayoutSystem } from '@early-set/core/playout/system';
import { useState } from 'react';
import { perform, several } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { useStickStep } from '../../../data/sticks.ts';
import { Button } from '../../../ui/Button.tsx';
import { figure } from '../../../ui/format.ts';
import { choicesIn, Row } from './parts.tsx';
import { PlayedDialog } from './PlayedDialog.tsx';
import { WriteDraft, type WriteDraftProps } from './WriteDraft.tsx';

interface Props extends WriteDraftProps {
  system: PlayoutSystem;
  onWhat: () => void;
  /** Shows the tracks that are refused for a reason. */
  onReason: (reason: string) => void;
}

export function PlayoutRules(props: Props) {
  const { stick, system, answer, onWhat, onReason, onLook } = props;
  const chosen = choicesIn(stick.settings);
  return (
    <aside aria-label="What it asks for" className="flex h-full flex-col gap-4 overflow-y-auto bg-paper p-3.5">
      <section>
        <h2 className="heading mb-1.5 text-[17px]">What {system.name} asks for</h2>
        <Row label="What goes there">
          <Button kind="link" onClick={onWhat}>
            {chosen === 0 ? 'Choose…' : `${several(chosen, 'choice')}…`}
          </Button>
        </Row>
        <Row label="Format">WAV, {(system.hertz / 1000).toLocaleString('en-GB')} kHz</Row>
        <Row label="Loudness">{figure(system.lufs, 1)} LUFS</Row>
        <Row label="True peak at most">{figure(system.ceilingDbtp, 1)} dBTP</Row>
        <Row label="Playout points">start, intro, segue, end</Row>
        <Row label="Playout ID">{system.idDigits} digits</Row>
      </section>
      {answer && <Refusals answer={answer} onReason={onReason} />}
      {answer && answer.removed.length > 0 && (
        <section aria-label="No longer wanted">
          <Row label={`${several(answer.removed.length, 'file')} will be removed`}>
            <Button kind="link" onClick={() => onLook('removed')}>
              Show…
            </Button>
          </Row>
        </section>
      )}
      {answer?.played && <WasPlayed stickId={stick.id} played={answer.played} busy={props.busy} />}
      <span className="flex-1" />
      <WriteDraft {...props} />
    </aside>
  );
}

/** Reasons with how many tracks each keeps out, the most frequent first. */
function reasonsIn(refused: StickAnswer['refused']): [reason: string, tracks: number][] {
  const counts = new Map<string, number>();
  for (const { reason } of refused) counts.set(reason, (counts.get(reason) ?? 0) + 1);
  return [...counts].sort(([, a], [, b]) => b - a);
}

function Refusals({ answer, onReason }: { answer: StickAnswer; onReason: (reason: string) => void }) {
  const { counts, refused } = answer;
  const tracks = new Set(refused.map((r) => r.trackId)).size;
  return (
    <section aria-label="What it takes">
      <h2 className="mb-1 text-small font-semibold text-dim">What it takes</h2>
      <Row label={`${several(counts.files, 'track')} can go there`}>
        <span className="text-kelp">yes</span>
      </Row>
      {tracks > 0 && (
        <Row label={`${several(tracks, 'track')} would be refused`}>
          <span className="text-sodium-text">not written</span>
        </Row>
      )}
      {reasonsIn(refused).map(([reason, n]) => (
        <Row key={reason} label={`${n.toLocaleString('en-GB')}: ${reason}`}>
          <Button kind="link" onClick={() => onReason(reason)}>
            Show…
          </Button>
        </Row>
      ))}
    </section>
  );
}

interface WasPlayedProps {
  stickId: number;
  played: NonNullable<StickAnswer['played']>;
  busy: boolean;
}
function WasPlayed({ stickId, played, busy }: WasPlayedProps) {
  const [reading, setReading] = useState<AbortController | null>(null);
  const step = useStickStep(reading ? stickId : null);
  const [read, setRead] = useState<PlayedRead | null>(null);
  const { days, fresh } = played;
  const begin = (): void => {
    const calledOff = new AbortController();
    setReading(calledOff);
    void perform(post<PlayedRead>(`/sticks/${stickId}/played`, { all: fresh === 0 }, calledOff.signal))
      .then((found) => found && setRead(found))
      .finally(() => setReading(null));
  };
  return (
    <section aria-label="What was played">
      <h2 className="mb-1 text-small font-semibold text-dim">What was played</h2>
      <Row label={days === 0 ? 'It has written down nothing yet' : `${several(days, 'day')} written down`}>
        {fresh > 0 && <span className="text-sodium-text">{several(fresh, 'day')} to read</span>}
      </Row>
      {reading ? (
        <p className="mt-2 flex items-center gap-2 text-small">
          <Button onClick={() => reading.abort()}>Cancel</Button>
          <span role="status" className="figures">
            {step ? `${several(step.done, 'day')} of ${step.total.toLocaleString('en-GB')} read` : 'Reading…'}
          </span>
        </p>
      ) : (
        <Button className="mt-2" onClick={begin} disabled={days === 0 || busy}>
          {fresh === 0 && days > 0 ? 'Read all days again' : 'Read what was played'}
        </Button>
      )}
      <PlayedDialog read={read} onClose={() => setRead(null)} />
    </section>
  );
}
