/** The releases a group may be, side by side. */
import type { Candidate } from '@early-set/core/api/catalogue';

/** What differs from the one in hand is marked. */
export function Versions({
  candidates,
  chosen,
  onChoose,
}: {
  candidates: readonly Candidate[];
  chosen: Candidate | undefined;
  onChoose: (id: string) => void;
}) {
  const cells = ({ release: r, match }: Candidate): [string, string][] => [
    ['Release', `${r.artists.join(', ')} – ${r.title}`],
    ['Year', String(r.year ?? '')],
    ['From', r.country ?? ''],
    ['On', r.format ?? ''],
    ['Label', r.label ?? ''],
    ['Lines', String(r.tracks.length)],
    ['Score', match.score.toFixed(2)],
  ];
  const own = chosen && cells(chosen);
  return (
    <table className="w-full border-b border-line text-small" aria-label="Releases it may be">
      <thead>
        <tr className="border-b border-line bg-paper text-left text-dim">
          <th className="w-[30px]">
            <span className="sr-only">In hand</span>
          </th>
          {['Release', 'Year', 'From', 'On', 'Label', 'Lines', 'Score'].map((h) => (
            <th key={h} className="px-2 py-1.5 font-semibold">
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {candidates.map((c) => (
          <tr
            key={c.release.id}
            data-release={c.release.id}
            onClick={() => onChoose(c.release.id)}
            className={`cursor-default border-b border-hair ${c === chosen ? 'bg-chosen' : 'hover:bg-paper'}`}
          >
            <td className="text-center">
              <input
                type="radio"
                name="release"
                aria-label={`Take ${c.release.title}, ${c.release.year ?? 'no year'}, ${c.release.format ?? ''}`}
                checked={c === chosen}
                onChange={() => onChoose(c.release.id)}
                className="accent-ink"
              />
            </td>
            {cells(c).map(([name, value], i) => (
              <td
                key={name}
                className={`px-2 py-1 ${name === 'Release' ? 'font-medium' : ''} ${own && c !== chosen && name !== 'Score' && own[i]![1] !== value ? 'text-sodium-text' : ''}`}
              >
                {value}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
