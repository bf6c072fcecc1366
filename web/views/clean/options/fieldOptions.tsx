/** Options of the steps that fill, move and number fields. */
import { CLEAN_FIELDS, READ_FIELDS } from '@early-set/core/clean/stepFields';
import { Check, Choice, INPUT, Line } from '../controls.tsx';
import { Over } from './Over.tsx';
import { choicesOf, type StepProps } from './stepProps.ts';

/** Fields that texts can be copied and moved between, and those that can only be copied. */
const MOVABLE = choicesOf(CLEAN_FIELDS),
  READABLE = choicesOf(READ_FIELDS);

export const FieldOptions = ({ step: { options }, set }: StepProps<'fields'>) => (
  <>
    <Choice
      label="Do"
      value={options.action}
      choices={[
        ['copy', 'copy'],
        ['move', 'move'],
        ['swap', 'swap'],
        ['clear', 'clear'],
      ]}
      onChange={(action) => set({ action })}
    />
    {options.action !== 'clear' && (
      <Choice
        label="From"
        value={options.from}
        choices={options.action === 'copy' ? READABLE : MOVABLE}
        onChange={(from) => set({ from })}
      />
    )}
    {options.action !== 'clear' && (
      <Choice
        label={options.action === 'swap' ? 'With' : 'To'}
        value={options.to}
        choices={MOVABLE}
        onChange={(to) => set({ to })}
      />
    )}
    {(options.action === 'copy' || options.action === 'move') && (
      <Over value={options.over} onChange={(over) => set({ over })} />
    )}
  </>
);

/** Fields that can be put together from others. */
const COMPOSED = choicesOf(['title', 'comment', 'album', 'notes', 'version', 'fileName']);
/** Some of those that a template may name. */
const NAMED = ['artist', 'title', 'version', 'energy', 'moods', 'bpm', 'key'].map((f) => `{{ ${f} }}`).join(' ');

export const ComposeOptions = ({ step: { options }, set }: StepProps<'compose'>) => (
  <>
    <Choice label="Into" value={options.into} choices={COMPOSED} onChange={(into) => set({ into })} />
    {options.into !== 'fileName' && (
      <Choice
        label="Where there is a value"
        value={options.place}
        choices={[
          ['instead', 'write over it'],
          ['behind', 'put it behind'],
          ['before', 'put it before'],
        ]}
        onChange={(place) => set({ place })}
      />
    )}
    <Line label="Template">
      <textarea
        rows={3}
        spellCheck={false}
        value={options.template}
        onChange={(e) => set({ template: e.target.value })}
        className={`${INPUT} figures text-small`}
      />
    </Line>
    <p className="text-dim">
      Fields by their names: {NAMED} and all others.
      {options.place !== 'instead' && ' What an earlier run put there is replaced.'}
    </p>
  </>
);

export const NumberOptions = ({ step: { options }, set }: StepProps<'numbers'>) => (
  <>
    <Choice
      label="Do"
      value={options.action}
      choices={[
        ['year', 'take the year out into Year'],
        ['totals', 'fill totals'],
        ['pad', 'pad with zeros'],
        ['unpad', 'take leading zeros off'],
      ]}
      onChange={(action) => set({ action })}
    />
    {options.action === 'totals' && (
      <p className="text-dim">Where an album is whole in its folder: each number from 1 on, once.</p>
    )}
    {options.action === 'pad' && (
      <Line label="Digits">
        <input
          type="number"
          min={1}
          max={6}
          value={options.digits}
          onChange={(e) => set({ digits: Math.max(1, Math.min(6, Number(e.target.value) || 1)) })}
          className={INPUT}
        />
      </Line>
    )}
  </>
);

export const GainOptions = ({ step: { options }, set }: StepProps<'gains'>) => (
  <>
    <Check
      label="Of albums too, where all tracks are measured"
      on={options.album}
      onChange={(album) => set({ album })}
    />
    <p className="text-dim">
      Towards −18 LUFS, as ReplayGain 2.0 has it; in Opus as R128 gain. The sound itself stays as it is.
    </p>
  </>
);
