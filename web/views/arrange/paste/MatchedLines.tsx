/** The lines of a pasted list beside the tracks they mean; what needs a look has a colour, and can be shown alone. */
import { useState } from 'react';
import type { MatchedList } from '@early-set/core/api/types';
import { several } from '../../../data/actions.ts';
import { slotText, type Choices } from './choices.ts';

interface Props {
  matched: MatchedList;
  choices: Choices;
  onChoose: (choices: Choices) => void;
}

export function MatchedLines({ matched: { lines }, choices, onChoose }: Props) {
  const [unsureOnly, setUnsureOnly] = useState(false);
  const unsure = lines.filter((l) => !l.sure && l.candidates.length > 0).length;
  return (
    <>
      <p className="flex items-center gap-3 text-small text-dim">
        <span className="flex-1">
          {several(lines.filter((l) => l.sure).length, 'line')} matched, {unsure} to look at,{' '}
          {lines.filter((l) => l.candidates.length === 0).length} not found
        </span>
        {unsure > 0 && (
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={unsureOnly}
              onChange={(e) => setUnsureOnly(e.target.checked)}
              className="accent-ink"
            />
            Only those to look at
          </label>
        )}
      </p>
      <div className="max-h-[300px] overflow-auto border border-line bg-sheet">
        <table className="w-full table-fixed text-small">
          <thead className="sticky top-0 bg-paper text-left text-dim">
            <tr>
              <th className="w-9 px-2 py-1 text-right font-semibold">No.</th>
              <th className="px-2 py-1 font-semibold">Line</th>
              <th className="w-[46%] px-2 py-1 font-semibold">Track</th>
              <th className="w-14 px-2 py-1 text-right font-semibold">Match</th>
            </tr>
          </thead>
          <tbody>
            {lines.map(({ entry, candidates, sure }, i) => {
              if (unsureOnly && (sure || candidates.length === 0)) return null;
              const text = slotText(entry),
                id = choices[i] ?? null,
                score = candidates.find((c) => c.id === id)?.score;
              return (
                <tr key={i} className="border-t border-hair">
                  <td className="figures px-2 py-1 text-right text-dim">{i + 1}</td>
                  <td className="truncate px-2 py-1" title={text}>
                    {text}
                  </td>
                  <td className="px-2 py-0.5">
                    <select
                      aria-label={`Track for ${text}`}
                      value={id ?? ''}
                      onChange={(e) =>
                        onChoose(choices.map((c, at) => (at === i ? Number(e.target.value) || null : c)))
                      }
                      className={`w-full rounded-xs border bg-sheet px-1 py-0.5 ${
                        sure ? 'border-line' : candidates.length ? 'border-sodium' : 'border-line text-dim'
                      }`}
                    >
                      <option value="">Open slot</option>
                      {candidates.map((c) => (
                        <option key={c.id} value={c.id}>
                          {c.name}
                        </option>
                      ))}
                    </select>
                  </td>
                  <td className={`figures px-2 py-1 text-right ${sure ? '' : 'text-sodium-text'}`}>
                    {score === undefined ? '–' : `${Math.round(100 * score)} %`}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </>
  );
}
