/** Options of the steps that tidy texts. */
import { Check, Choice, INPUT, Line } from '../controls.tsx';
import type { StepProps } from './stepProps.ts';

export const MarkOptions = ({ step: { options }, set }: StepProps<'marks'>) => (
  <>
    <Check label="Web addresses" on={options.web} onChange={(web) => set({ web })} />
    <Check label="Promo marks" on={options.promo} onChange={(promo) => set({ promo })} />
    <Check label="Marks of encoders and rips" on={options.encoder} onChange={(encoder) => set({ encoder })} />
  </>
);

export const CapitalOptions = ({ step: { options }, set }: StepProps<'capitals'>) => (
  <>
    <Choice
      label="Capitals"
      value={options.mode}
      choices={[
        ['title', 'Title Case'],
        ['sentence', 'Sentence case'],
        ['upper', 'UPPER CASE'],
        ['lower', 'lower case'],
      ]}
      onChange={(mode) => set({ mode })}
    />
    <Check label="Names as the library knows them" on={options.known} onChange={(known) => set({ known })} />
    <Check
      label="Only texts all in one case"
      on={options.onlyOneCase}
      onChange={(onlyOneCase) => set({ onlyOneCase })}
    />
  </>
);

export const ReplaceOptions = ({ step: { options }, set }: StepProps<'replace'>) => (
  <>
    <Line label="Find">
      <input value={options.find} onChange={(e) => set({ find: e.target.value })} className={INPUT} />
    </Line>
    <Line label="Replace with">
      <input value={options.with} onChange={(e) => set({ with: e.target.value })} className={INPUT} />
    </Line>
    <Check label="As a pattern (regular expression)" on={options.pattern} onChange={(pattern) => set({ pattern })} />
    <Check label="Whole words" on={options.words} onChange={(words) => set({ words })} />
    <Check label="Case matters" on={options.matchCase} onChange={(matchCase) => set({ matchCase })} />
  </>
);

const BRACKETS = [
  ['keep', 'leave as they are'],
  ['drop marks', 'take off, keep what is inside'],
  ['drop with content', 'take off with what is inside'],
] as const;

export function CharacterOptions({ step: { options }, set }: StepProps<'characters'>) {
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
