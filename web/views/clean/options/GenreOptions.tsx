/** The table of genres: what is found, what is wanted, and spellings that look alike. */
import { X } from 'lucide-react';
import { alikeGenres, genreKey, type GenreRow } from '@early-set/core/clean/genres';
import type { Step } from '@early-set/core/clean/steps';
import { splitList } from '@early-set/core/fields/values';
import { several } from '../../../data/actions.ts';
import { useGenreCounts } from '../../../data/hooks.ts';
import { Check, INPUT } from '../controls.tsx';

type GenreStep = Step & { kind: 'genres' };

export function GenreOptions({
  step: { options },
  onChange,
}: {
  step: GenreStep;
  onChange: (options: Partial<GenreStep['options']>) => void;
}) {
  const { data: counts = [] } = useGenreCounts(true);
  const { table } = options;
  const listed = new Set(table.map((row) => genreKey(row.from)));
  const change = (i: number, row: GenreRow): void => onChange({ table: table.map((r, j) => (j === i ? row : r)) });
  const suggestions = alikeGenres(counts).filter((s) =>
    s.found.some((f) => f.genre !== s.wanted && !listed.has(genreKey(f.genre))),
  );
  const accept = ({ wanted, found }: (typeof suggestions)[number]): void =>
    onChange({
      table: [
        ...table,
        ...found
          .filter((f) => f.genre !== wanted && !listed.has(genreKey(f.genre)))
          .map((f) => ({ from: f.genre, to: [wanted] })),
      ],
    });
  const free = counts.filter(([genre]) => !listed.has(genreKey(genre)));
  return (
    <>
      <Check
        label="Part “House / Techno” at slashes and commas"
        on={options.split}
        onChange={(split) => onChange({ split })}
      />
      {table.length > 0 && (
        <table className="w-full">
          <thead>
            <tr className="text-left text-tiny text-dim">
              <th className="font-normal">Found</th>
              <th className="font-normal">Wanted; several with ;</th>
              <th>
                <span className="sr-only">Remove</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {table.map((row, i) => (
              <tr key={i}>
                <td className="w-[42%] pr-1">
                  <input
                    aria-label={`Genre found ${i + 1}`}
                    value={row.from}
                    onChange={(e) => change(i, { ...row, from: e.target.value })}
                    className={INPUT}
                  />
                </td>
                <td>
                  <WantedInput
                    key={row.to.join(';')}
                    row={row}
                    number={i + 1}
                    onChange={(to) => change(i, { ...row, to })}
                  />
                </td>
                <td>
                  <button
                    type="button"
                    aria-label={`Remove row ${i + 1}`}
                    onClick={() => onChange({ table: table.filter((_, j) => j !== i) })}
                    className="p-0.5 text-dim hover:text-ink"
                  >
                    <X size={12} />
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <datalist id="genres-known">
        {counts.map(([genre]) => (
          <option key={genre} value={genre} />
        ))}
      </datalist>
      {suggestions.length > 0 && <p className="mt-1 text-dim">Written in several ways</p>}
      {suggestions.map((s) => (
        <button
          key={s.wanted}
          type="button"
          onClick={() => accept(s)}
          className="border border-line px-1.5 py-1 text-left hover:border-tide-deep"
        >
          {s.found
            .filter((f) => f.genre !== s.wanted)
            .map((f) => `${f.genre} (${f.tracks})`)
            .join(', ')}{' '}
          → <b>{s.wanted}</b>
        </button>
      ))}
      <select
        aria-label="Add a genre to the table"
        value=""
        onChange={(e) => onChange({ table: [...table, { from: e.target.value, to: [e.target.value] }] })}
        className={INPUT}
      >
        <option value="">Add a genre…</option>
        {free.map(([genre, n]) => (
          <option key={genre} value={genre}>
            {genre}, {several(n, 'track')}
          </option>
        ))}
      </select>
    </>
  );
}

/** Typed as text, taken when it is left, so that a semicolon can be typed. */
function WantedInput({ row, number, onChange }: { row: GenreRow; number: number; onChange: (to: string[]) => void }) {
  const take = (e: { currentTarget: HTMLInputElement }): void => {
    const to = splitList(e.currentTarget.value);
    if (to.join() !== row.to.join()) onChange(to);
  };
  return (
    <input
      aria-label={`Genre wanted ${number}`}
      list="genres-known"
      defaultValue={row.to.join('; ')}
      placeholder="nothing"
      onBlur={take}
      onKeyDown={(e) => {
        if (e.key === 'Enter') take(e);
      }}
      className={INPUT}
    />
  );
}
