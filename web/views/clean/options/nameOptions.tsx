/** Options of the steps that read names: of files, of versions and guests, of what stands before a title. */
import { Check, Choice } from '../controls.tsx';
import { Over } from './Over.tsx';
import { choicesOf, type StepProps } from './stepProps.ts';

export const NameOptions = ({ step: { options }, set }: StepProps<'names'>) => (
  <>
    <Choice
      label="Separators"
      value={options.separators}
      choices={[
        ['loose', 'loose: -, _ and " - "'],
        ['strict', 'strict: only " - "'],
      ]}
      onChange={(separators) => set({ separators })}
    />
    <Check label="Folder names too" on={options.folders} onChange={(folders) => set({ folders })} />
    <Over value={options.over} onChange={(over) => set({ over })} />
  </>
);

/** Fields whose value may stand in front of a title. */
const REMOVED = choicesOf(['artist', 'albumArtist', 'album', 'title', 'version', 'label', 'catalogueNumber']);

export const RemoveOptions = ({ step: { options }, set }: StepProps<'remove'>) => (
  <Choice label="What is removed" value={options.what} choices={REMOVED} onChange={(what) => set({ what })} />
);

export const TrackNumberOptions = ({ step: { options }, set }: StepProps<'trackNumbers'>) => (
  <Check label="Into the field Track, where that is empty" on={options.into} onChange={(into) => set({ into })} />
);

export function VersionOptions({ step: { options }, set }: StepProps<'versions'>) {
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
      <p className="mt-1 text-dim">Split artists at</p>
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
