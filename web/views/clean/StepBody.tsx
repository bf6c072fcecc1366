/** The options of one step. */
import { lazy, Suspense, type ReactNode } from 'react';
import { FIELDS, fieldOf } from '@early-set/core/fields/table';
import { CLEAN_FIELDS, READ_FIELDS, stepKind, type Step, type StepKindId } from '@early-set/core/clean/steps';
import { GenreOptions } from './GenreOptions.tsx';
import { Check, Choice, INPUT, Line } from './controls.tsx';

const RuleEditor = lazy(() => import('./RuleEditor.tsx'));

interface Props {
  step: Step;
  onChange: (step: Step) => void;
  trouble: string | null;
}
type Of<K extends StepKindId> = Step & { kind: K };

const choicesOf = (ids: readonly string[]): [string, string][] =>
  FIELDS.filter((f) => ids.includes(f.id)).map((f) => [f.id, f.label]);
/** Fields that texts can be copied and moved between, and those that can only be copied. */
const MOVABLE = choicesOf(CLEAN_FIELDS),
  READABLE = choicesOf(READ_FIELDS);

export function StepBody({ step, onChange, trouble }: Props) {
  const set = <K extends StepKindId>(of: Of<K>, options: Partial<Of<K>['options']>): void =>
    onChange({ ...of, options: { ...of.options, ...options } } as Step);
  return (
    <div className="flex flex-col gap-1.5 text-small">
      {optionsOf(step, set, trouble)}
      <FieldChoices step={step} onChange={onChange} />
    </div>
  );
}

/** Which fields it is about. */
function FieldChoices({ step, onChange }: Pick<Props, 'step' | 'onChange'>) {
  const { choices } = stepKind(step.kind);
  if (choices.length < 2 || (step.kind === 'numbers' && step.options.action === 'totals')) return null;
  const toggle = (id: string): void =>
    onChange({
      ...step,
      fields: choices.filter((f) => (f === id ? !step.fields.includes(f) : step.fields.includes(f))),
    } as Step);
  return (
    <div role="group" aria-label="Fields" className="mt-1 flex flex-wrap gap-1">
      {choices.map((id) => (
        <button
          key={id}
          type="button"
          aria-pressed={step.fields.includes(id)}
          onClick={() => toggle(id)}
          className="rounded-xs border border-line px-1.5 py-px text-tiny text-dim hover:border-tide-deep aria-pressed:border-ink aria-pressed:bg-inverse aria-pressed:text-inverse-ink"
        >
          {fieldOf(id).label}
        </button>
      ))}
    </div>
  );
}

function optionsOf(
  step: Step,
  set: <K extends StepKindId>(of: Of<K>, options: Partial<Of<K>['options']>) => void,
  trouble: string | null,
): ReactNode {
  switch (step.kind) {
    case 'names':
      return (
        <>
          <Choice
            label="Separators"
            value={step.options.separators}
            choices={[
              ['loose', 'loose: -, _ and " - "'],
              ['strict', 'strict: only " - "'],
            ]}
            onChange={(separators) => set(step, { separators })}
          />
          <Check label="Folder names too" on={step.options.folders} onChange={(folders) => set(step, { folders })} />
          <Choice
            label="Where there is a value"
            value={step.options.over}
            choices={[
              ['fill gaps', 'keep it'],
              ['replace', 'write over it'],
            ]}
            onChange={(over) => set(step, { over })}
          />
        </>
      );
    case 'marks':
      return (
        <>
          <Check label="Web addresses" on={step.options.web} onChange={(web) => set(step, { web })} />
          <Check label="Promo marks" on={step.options.promo} onChange={(promo) => set(step, { promo })} />
          <Check
            label="Marks of encoders and rips"
            on={step.options.encoder}
            onChange={(encoder) => set(step, { encoder })}
          />
        </>
      );
    case 'characters':
      return <Characters step={step} set={(o) => set(step, o)} />;
    case 'remove':
      return (
        <Choice
          label="What is removed"
          value={step.options.what}
          choices={['artist', 'albumArtist', 'album', 'title', 'version', 'label', 'catalogueNumber'].map((f) => [
            f,
            fieldOf(f).label,
          ])}
          onChange={(what) => set(step, { what })}
        />
      );
    case 'trackNumbers':
      return (
        <Check
          label="Into the field Track, where that is empty"
          on={step.options.into}
          onChange={(into) => set(step, { into })}
        />
      );
    case 'versions':
      return <Versions step={step} set={(o) => set(step, o)} />;
    case 'compose':
      return (
        <>
          <Choice
            label="Into"
            value={step.options.into}
            choices={['title', 'comment', 'album', 'notes', 'version', 'fileName'].map((f) => [f, fieldOf(f).label])}
            onChange={(into) => set(step, { into })}
          />
          {step.options.into !== 'fileName' && (
            <Choice
              label="Where there is a value"
              value={step.options.place}
              choices={[
                ['instead', 'write over it'],
                ['behind', 'put it behind'],
                ['before', 'put it before'],
              ]}
              onChange={(place) => set(step, { place })}
            />
          )}
          <Line label="Template">
            <textarea
              rows={3}
              spellCheck={false}
              value={step.options.template}
              onChange={(e) => set(step, { template: e.target.value })}
              className={`${INPUT} figures text-small`}
            />
          </Line>
          <p className="text-dim">
            Fields by their names:{' '}
            {READ_FIELDS.filter((f) => ['artist', 'title', 'version', 'energy', 'moods', 'bpm', 'key'].includes(f))
              .map((f) => `{{ ${f} }}`)
              .join(' ')}{' '}
            and all others.{step.options.place !== 'instead' && ' What an earlier run put there is replaced.'}
          </p>
        </>
      );
    case 'capitals':
      return (
        <>
          <Choice
            label="Capitals"
            value={step.options.mode}
            choices={[
              ['title', 'Title Case'],
              ['sentence', 'Sentence case'],
              ['upper', 'UPPER CASE'],
              ['lower', 'lower case'],
            ]}
            onChange={(mode) => set(step, { mode })}
          />
          <Check
            label="Names as the library knows them"
            on={step.options.known}
            onChange={(known) => set(step, { known })}
          />
          <Check
            label="Only texts all in one case"
            on={step.options.onlyOneCase}
            onChange={(onlyOneCase) => set(step, { onlyOneCase })}
          />
        </>
      );
    case 'replace':
      return (
        <>
          <Line label="Find">
            <input value={step.options.find} onChange={(e) => set(step, { find: e.target.value })} className={INPUT} />
          </Line>
          <Line label="Put instead">
            <input value={step.options.with} onChange={(e) => set(step, { with: e.target.value })} className={INPUT} />
          </Line>
          <Check
            label="As a pattern (regular expression)"
            on={step.options.pattern}
            onChange={(pattern) => set(step, { pattern })}
          />
          <Check label="Whole words" on={step.options.words} onChange={(words) => set(step, { words })} />
          <Check label="Case matters" on={step.options.matchCase} onChange={(matchCase) => set(step, { matchCase })} />
        </>
      );
    case 'fields':
      return (
        <>
          <Choice
            label="Do"
            value={step.options.action}
            choices={[
              ['copy', 'copy'],
              ['move', 'move'],
              ['swap', 'swap'],
              ['clear', 'clear'],
            ]}
            onChange={(action) => set(step, { action })}
          />
          <Choice
            label={step.options.action === 'clear' ? 'Field' : 'From'}
            value={step.options.from}
            choices={step.options.action === 'copy' ? READABLE : MOVABLE}
            onChange={(from) => set(step, { from })}
          />
          {step.options.action !== 'clear' && (
            <Choice
              label={step.options.action === 'swap' ? 'With' : 'To'}
              value={step.options.to}
              choices={MOVABLE}
              onChange={(to) => set(step, { to })}
            />
          )}
          {(step.options.action === 'copy' || step.options.action === 'move') && (
            <Choice
              label="Where there is a value"
              value={step.options.over}
              choices={[
                ['fill gaps', 'keep it'],
                ['replace', 'write over it'],
              ]}
              onChange={(over) => set(step, { over })}
            />
          )}
        </>
      );
    case 'numbers':
      return (
        <>
          <Choice
            label="Do"
            value={step.options.action}
            choices={[
              ['year', 'take the year out into Year'],
              ['totals', 'say of how many tracks and discs'],
              ['pad', 'pad with zeros'],
              ['unpad', 'take leading zeros off'],
            ]}
            onChange={(action) => set(step, { action })}
          />
          {step.options.action === 'totals' && (
            <p className="text-dim">Where an album is whole in its folder: each number from 1 on, once.</p>
          )}
          {step.options.action === 'pad' && (
            <Line label="Digits">
              <input
                type="number"
                min={1}
                max={6}
                value={step.options.digits}
                onChange={(e) => set(step, { digits: Math.max(1, Math.min(6, Number(e.target.value) || 1)) })}
                className={INPUT}
              />
            </Line>
          )}
        </>
      );
    case 'gains':
      return (
        <>
          <Check
            label="Of albums too, where all tracks are measured"
            on={step.options.album}
            onChange={(album) => set(step, { album })}
          />
          <p className="text-dim">
            Towards −18 LUFS, as ReplayGain 2.0 has it; in Opus as R128 gain. The sound itself stays as it is.
          </p>
        </>
      );
    case 'genres':
      return <GenreOptions step={step} onChange={(o) => set(step, o)} />;
    case 'rule':
      return (
        <Suspense fallback={<p className="text-dim">Opening the editor…</p>}>
          <RuleEditor source={step.options.source} onChange={(source) => set(step, { source })} trouble={trouble} />
        </Suspense>
      );
  }
}

const BRACKETS = [
  ['keep', 'leave as they are'],
  ['drop marks', 'take off, keep what is inside'],
  ['drop with content', 'take off with what is inside'],
] as const;

function Characters({
  step: { options },
  set,
}: {
  step: Of<'characters'>;
  set: (o: Partial<Of<'characters'>['options']>) => void;
}) {
  const own = options.own.length ? options.own : [{ from: '', to: '' }];
  const change = (i: number, pair: { from: string; to: string }): void =>
    set({ own: own.map((p, j) => (j === i ? pair : p)) });
  return (
    <>
      <Check label="Underscore to space" on={options.underscores} onChange={(underscores) => set({ underscores })} />
      <Check label="Double spaces to one" on={options.spaces} onChange={(spaces) => set({ spaces })} />
      <Check label="Odd quotes and dashes to plain ones" on={options.quotes} onChange={(quotes) => set({ quotes })} />
      <Check label="Characters that cannot be seen" on={options.control} onChange={(control) => set({ control })} />
      <Choice
        label="Square brackets [ ]"
        value={options.square}
        choices={BRACKETS}
        onChange={(square) => set({ square })}
      />
      <Choice
        label="Round brackets ( )"
        value={options.round}
        choices={BRACKETS}
        onChange={(round) => set({ round })}
      />
      {own.map((pair, i) => (
        <div key={i} className="flex items-center gap-1">
          <input
            aria-label={`Own character ${i + 1}`}
            value={pair.from}
            onChange={(e) => change(i, { ...pair, from: e.target.value })}
            placeholder="this"
            className={`${INPUT} w-0 flex-1`}
          />
          →
          <input
            aria-label={`becomes ${i + 1}`}
            value={pair.to}
            onChange={(e) => change(i, { ...pair, to: e.target.value })}
            placeholder="becomes"
            className={`${INPUT} w-0 flex-1`}
          />
        </div>
      ))}
      {own.at(-1)!.from !== '' && (
        <button
          type="button"
          onClick={() => set({ own: [...own, { from: '', to: '' }] })}
          className="self-start text-buoy-text hover:underline"
        >
          One more
        </button>
      )}
    </>
  );
}

function Versions({
  step: { options },
  set,
}: {
  step: Of<'versions'>;
  set: (o: Partial<Of<'versions'>['options']>) => void;
}) {
  const split = (part: Partial<typeof options.split>): void => set({ split: { ...options.split, ...part } });
  return (
    <>
      <Check
        label="Version in brackets or behind a dash → Version"
        on={options.versions}
        onChange={(versions) => set({ versions })}
      />
      <Check label="Also bare words: … Extended Mix" on={options.bare} onChange={(bare) => set({ bare })} />
      <Check
        label="feat. / ft. / with in the title → Artist"
        on={options.guests}
        onChange={(guests) => set({ guests })}
      />
      <Check label="Who remixed → Remixer" on={options.remixers} onChange={(remixers) => set({ remixers })} />
      <p className="mt-1 text-dim">Part artists at</p>
      <Check label="feat., ft." on={options.split.feat} onChange={(feat) => split({ feat })} />
      <Check label="vs" on={options.split.versus} onChange={(versus) => split({ versus })} />
      <Check label="x, ×" on={options.split.times} onChange={(times) => split({ times })} />
      <Check label="pres." on={options.split.presents} onChange={(presents) => split({ presents })} />
      <Check
        label="& and commas, where one name is known"
        on={options.split.ampersand}
        onChange={(ampersand) => split({ ampersand })}
      />
    </>
  );
}
