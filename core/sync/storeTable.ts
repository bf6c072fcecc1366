/** What a destination can store, in words: the dialog of the page and the tables of docs/formats are made from it. */
import type { Description, FieldLimits } from '../exchange/collection.ts';
import { fieldOf } from '../fields/table.ts';
import { SYNCED_FIELDS } from '../exchange/exchangedFields.ts';

function limitsText({ maxLength, decimals, scale, inComment, counted, measured }: FieldLimits, keys: string): string {
  const said = [
    inComment && 'in front of the comment',
    maxLength !== undefined && `at most ${maxLength} characters`,
    decimals !== undefined && `${decimals} ${decimals === 1 ? 'decimal' : 'decimals'}`,
    scale !== undefined && scale !== 5 && `kept as 0 to ${scale}`,
    counted && 'counted there; counts of both are added up',
    measured && 'found out by itself',
    keys,
  ].filter(Boolean);
  return said.length > 0 ? said.join('; ') : 'yes';
}

/** Pairs of what it is and how it is stored. */
export function storeTable(about: Description): [what: string, how: string][] {
  const { fields, cues, loops, grid, lists, decoderOffset } = about;
  const spelt = ['A minor', 'F# minor', 'Eb major'].map((key) => about.keys[key] ?? key).join(', ');
  const rows = SYNCED_FIELDS.flatMap((id): [string, string][] => {
    if (id === 'cues' || id === 'gridStartSeconds' || id === 'beatsPerBar') return [];
    const limits = fields[id];
    return [[fieldOf(id).label, limits ? limitsText(limits, id === 'key' ? `written as ${spelt}` : '') : 'no place']];
  });
  const colours = cues?.colours ? `in ${Object.keys(cues.colours).length} colours` : 'without colours';
  const offsets = Object.entries(decoderOffset).map(
    ([f, s]) => `${Math.round(s * 1000)} ms later in ${f.toUpperCase()}`,
  );
  const called = lists.kind === 'crate' ? 'crates' : 'playlists';
  return [
    ...rows,
    ['Cues', cues ? `${cues.max}, ${cues.names ? 'named' : 'without names'}, ${colours}` : 'no place'],
    ['Loops', loops ? String(loops.max) : 'no place'],
    ['First bar and beats a bar', grid ? 'yes' : 'no place'],
    ['Where its sound begins', offsets.length > 0 ? offsets.join(', ') : 'as here'],
    [
      'Lists',
      [
        called,
        lists.depth === null ? 'nested without end' : `nested ${lists.depth} deep`,
        `names of at most ${lists.maxName} characters`,
        lists.repeats ? 'a track may stand in one several times' : 'each track once',
      ].join(', '),
    ],
    ['Paths', about.paths],
    ['When a value was changed', about.keepsTimes ? 'is known' : 'is not known'],
    [
      'Pictures',
      about.covers ? `copies of its own as PNG, at most ${about.covers.maxPixels} pixels a side` : 'those in the files',
    ],
    ['While it is open', about.mustBeClosed ? 'nothing can be written' : 'it can be written'],
  ];
}
