/** How a stick is laid out, what its player plays, what it would refuse; and the draft. */
import type { StickAnswer, StickLine, StickSettings } from '@early-set/core/api/stick';
import type { CopyProgress, RunProgress } from '@early-set/core/api/types';
import { TARGET_IDS, TARGETS, type Player, type Target } from '@early-set/core/stick/player';
import { several } from '../../../data/actions.ts';
import { Button } from '../../../ui/Button.tsx';
import { bytes, figure } from '../../../ui/format.ts';
import { Choice } from '../Choice.tsx';
import { SavedInput } from '../../../ui/form/SavedInput.tsx';
import { SavedText } from './SavedText.tsx';
import { aboutTime, hasWork, reportText } from './words.ts';

interface Props {
  stick: StickLine;
  player: Player;
  answer: StickAnswer | undefined;
  /** It is being written, or verified. */
  busy: boolean;
  /** The run that writes it. */
  writing: RunProgress | undefined;
  onCancel: () => void;
  onKeep: (wish: Partial<StickSettings>) => void;
  onWhat: () => void;
  onWrite: () => void;
  onFormer: () => void;
  onLook: (what: 'refused' | 'removed' | 'failed') => void;
}

export function LaidOut(props: Props) {
  const { stick, player, answer, busy, writing, onKeep, onWhat, onWrite, onFormer, onLook, onCancel } = props;
  const { settings, report, brokenOff } = stick;
  const { convert } = settings;
  const setConvert = (wish: Partial<StickSettings['convert']>): void => onKeep({ convert: { ...convert, ...wish } });
  const formats = TARGET_IDS.filter((id) => player.plays === null || player.plays.includes(id));
  const lossy = TARGETS[convert.format].kbps;
  const chosen =
    settings.lists.length + settings.dates.length + settings.folders.length + Math.min(1, settings.tracks.length);
  return (
    <aside aria-label="How it is laid out" className="flex h-full flex-col gap-4 overflow-y-auto bg-paper p-3.5">
      <section>
        <h2 className="heading mb-1.5 text-[17px]">How it is laid out</h2>
        <Row label="What goes there">
          <Button kind="link" onClick={onWhat}>
            {chosen === 0 ? 'Choose…' : `${several(chosen, 'choice')}…`}
          </Button>
        </Row>
        <SavedText
          label="Folders and names"
          value={settings.names}
          onSave={(names) => onKeep({ names })}
          hint="list, place, counter, and all fields"
        />
        <label className="flex items-center gap-2 border-b border-hair py-1.5 text-small">
          <span className="min-w-0 flex-1">Accents as plain letters</span>
          <input
            type="checkbox"
            className="accent-ink"
            checked={settings.accents !== 'keep'}
            onChange={(e) => onKeep({ accents: e.target.checked ? 'plain letters' : 'keep' })}
          />
        </label>
      </section>
      {answer && <CanDo answer={answer} stick={stick} onLook={onLook} />}
      <section aria-label="Formats">
        <h2 className="mb-1 text-small font-semibold text-dim">Formats</h2>
        <Row label="It plays">
          {player.plays === null ? 'everything' : player.plays.map((id) => TARGETS[id].label).join(', ')}
        </Row>
        <Choice
          label="Convert"
          value={convert.when}
          choices={[
            ['needed', player.plays === null ? 'nothing, unless levelled' : 'what it does not play'],
            ['always', 'all that is in another format'],
          ]}
          onChoose={(when) => setConvert({ when })}
        />
        <Choice
          label="To"
          value={convert.format}
          choices={formats.map((id) => [id, TARGETS[id].label] as const)}
          onChoose={(format: Target) => {
            const rates = TARGETS[format].kbps as readonly number[];
            setConvert({ format, kbps: rates.includes(convert.kbps) ? convert.kbps : (rates.at(-2) ?? convert.kbps) });
          }}
        />
        {lossy.length > 0 && (
          <Choice
            label="Quality"
            value={String(convert.kbps)}
            choices={lossy.map((rate) => [String(rate), `${rate} kbit/s`] as const)}
            onChoose={(rate) => setConvert({ kbps: Number(rate) })}
          />
        )}
        <label className="flex items-center gap-2 border-b border-hair py-1.5 text-small">
          <input
            type="checkbox"
            className="accent-ink"
            checked={convert.lufs !== null}
            onChange={(e) => setConvert({ lufs: e.target.checked ? -14 : null })}
          />
          <span className="min-w-0 flex-1">Level the loudness</span>
          {convert.lufs !== null && (
            <>
              <SavedInput
                label="Loudness in LUFS"
                value={convert.lufs}
                text={(v) => figure(v, 1)}
                read={(typed) => numberIn(typed, -36, -5)}
                onSave={(lufs) => lufs !== null && setConvert({ lufs })}
              />
              <span className="text-dim">LUFS</span>
            </>
          )}
        </label>
        {convert.lufs !== null && (
          <Row label="True peak at most">
            <SavedInput
              label="True peak in dBTP"
              value={settings.ceilingDbtp}
              text={(v) => figure(v, 1)}
              read={(typed) => numberIn(typed, -12, 0)}
              onSave={(ceilingDbtp) => ceilingDbtp !== null && onKeep({ ceilingDbtp })}
            />{' '}
            dBTP
          </Row>
        )}
      </section>
      <section aria-label="Lists">
        <h2 className="mb-1 text-small font-semibold text-dim">Lists</h2>
        <label className="flex items-center gap-2 border-b border-hair py-1.5 text-small">
          <span className="min-w-0 flex-1">Write each list as M3U8</span>
          <input
            type="checkbox"
            className="accent-ink"
            checked={settings.m3u8}
            onChange={(e) => onKeep({ m3u8: e.target.checked })}
          />
        </label>
        {settings.m3u8 && (
          <SavedText label="Line of a track" value={settings.line} onSave={(line) => onKeep({ line })} />
        )}
      </section>
      <section aria-label="The player">
        <h2 className="mb-1 text-small font-semibold text-dim">The player</h2>
        {player.sortsBy && <Row label="Sorts by">{player.sortsBy}</Row>}
        {player.shows && <Row label="Shows">{player.shows}</Row>}
        <Row label="Longest name">{player.maxName} characters</Row>
        {player.filesAFolder !== null && <Row label="Files in a folder">{player.filesAFolder} at most</Row>}
        {player.picture && <Row label={player.picture.name}>{player.picture.maxPixels} pixels</Row>}
      </section>
      <span className="flex-1" />
      {answer && (
        <section aria-label="Draft" className="sticky -bottom-3.5 border border-ink bg-chosen p-3">
          <p className="font-semibold">
            {hasWork(answer)
              ? `${several(answer.counts.write, 'file')}, ${bytes(answer.bytes.comes)}, ${aboutTime(answer.seconds)}`
              : `${stick.name} is up to date`}
          </p>
          {report && (!hasWork(answer) || brokenOff) && (
            <p className="mt-1 text-small" data-testid="stick-report">
              {reportText(report)}{' '}
              {report.failed.length > 0 && (
                <Button kind="link" onClick={() => onLook('failed')}>
                  Show them…
                </Button>
              )}
            </p>
          )}
          <p className="mt-1 text-small text-dim">
            {answer.removed.length > 0 ? `${several(answer.removed.length, 'file')} will be removed. ` : ''}
            {answer.foreign > 0 ? `${several(answer.foreign, 'file')} of others untouched. ` : ''}
            {answer.counts.changed > 0
              ? `${several(answer.counts.changed, 'file')} that somebody changed there will be replaced, for good. `
              : ''}
            {hasWork(answer) ? 'Every copy is read back. Can be undone.' : ''}
          </p>
          {writing && (
            <p role="status" className="figures mt-1 text-small">
              {progressText(writing)}
            </p>
          )}
          <div className="mt-2.5 flex justify-end gap-2">
            {writing && <Button onClick={onCancel}>Cancel</Button>}
            {brokenOff && !writing && (
              <Button onClick={onFormer} disabled={busy} title="Writes what was there before the last writing">
                Go back
              </Button>
            )}
            <Button kind="main" onClick={onWrite} disabled={busy || !hasWork(answer)}>
              {writing ? 'Writing…' : brokenOff ? 'Go on writing' : `Write to ${stick.name}`}
            </Button>
          </div>
        </section>
      )}
    </aside>
  );
}

function progressText({ report }: RunProgress): string {
  const { copied, toCopy } = (report ?? {}) as Partial<CopyProgress>;
  return copied !== undefined && toCopy ? `${bytes(copied)} of ${bytes(toCopy)} written` : 'Beginning…';
}

function numberIn(typed: string, least: number, most: number): number | undefined {
  const value = Number(typed.replace('−', '-').replace(',', '.'));
  return typed !== '' && Number.isFinite(value) && value >= least && value <= most ? value : undefined;
}

function CanDo({ answer, stick, onLook }: Pick<Props, 'stick' | 'onLook'> & { answer: StickAnswer }) {
  const { counts, refused, removed, left } = answer;
  return (
    <section aria-label="What the player can do">
      <h2 className="mb-1 text-small font-semibold text-dim">What the player can do</h2>
      <Row label={`${counts.files.toLocaleString('en-GB')} can be played`}>
        <span className="text-kelp">yes</span>
      </Row>
      {refused.length > 0 && (
        <Row label={`${several(refused.length, 'track')} cannot go there`}>
          <Button kind="link" onClick={() => onLook('refused')}>
            Show…
          </Button>
        </Row>
      )}
      {counts.cut > 0 && (
        <Row label={`${several(counts.cut, 'name')} cut`}>
          <span className="text-sodium-text">see How</span>
        </Row>
      )}
      {removed.length > 0 && (
        <Row label={`${several(removed.length, 'file')} will be removed`}>
          <Button kind="link" onClick={() => onLook('removed')}>
            Show…
          </Button>
        </Row>
      )}
      {left.length > 0 && (
        <Row label={`${several(left.length, 'file')} changed on ${stick.name} since`}>
          <span className="text-dim">stay</span>
        </Row>
      )}
    </section>
  );
}

const Row = ({ label, children }: { label: string; children: React.ReactNode }) => (
  <div className="flex items-center gap-3 border-b border-hair py-1.5 text-small">
    <span className="min-w-0 flex-1">{label}</span>
    <span className="text-right font-semibold">{children}</span>
  </div>
);
