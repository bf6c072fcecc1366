/** How a stick is laid out, what its player plays, what it would refuse; and the draft. */
import type { StickSettings } from '@early-set/core/api/stick';
import { TARGET_IDS, TARGETS, type Player, type Target } from '@early-set/core/stick/player';
import { several } from '../../../data/actions.ts';
import { Button } from '../../../ui/Button.tsx';
import { figure } from '../../../ui/format.ts';
import { Choice } from '../Choice.tsx';
import { SavedInput } from '../../../ui/form/SavedInput.tsx';
import { CanDo, choicesIn, Row } from './parts.tsx';
import { SavedText } from './SavedText.tsx';
import { WriteDraft, type WriteDraftProps } from './WriteDraft.tsx';

interface Props extends WriteDraftProps {
  player: Player;
  onKeep: (wish: Partial<StickSettings>) => void;
  onWhat: () => void;
}

export function LaidOut(props: Props) {
  const { stick, player, answer, onKeep, onWhat, onLook } = props;
  const { settings } = stick;
  const { convert } = settings;
  const setConvert = (wish: Partial<StickSettings['convert']>): void => onKeep({ convert: { ...convert, ...wish } });
  const formats = TARGET_IDS.filter((id) => player.plays === null || player.plays.includes(id));
  const lossy = TARGETS[convert.format].kbps;
  const chosen = choicesIn(settings);
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
      <WriteDraft {...props} />
    </aside>
  );
}

function numberIn(typed: string, least: number, most: number): number | undefined {
  const value = Number(typed.replace('−', '-').replace(',', '.'));
  return typed !== '' && Number.isFinite(value) && value >= least && value <= most ? value : undefined;
}
