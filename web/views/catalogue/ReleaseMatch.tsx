/** The middle: the releases it may be, side by side, and the tracks laid on the lines of the one in hand. */
import { useState } from 'react';
import type { GroupDetails } from '@early-set/core/api/catalogue';
import { Button } from '../../ui/Button.tsx';
import { Versions } from './ReleaseVersions.tsx';
import { MatchedTracks } from './MatchedTracks.tsx';

interface Props {
  group: GroupDetails;
  onChoose: (releaseId: string) => void;
  onLines: (lines: Record<number, number>) => void;
  onSearch: (query: GroupDetails['query']) => void;
  inHand: number | null;
  onInHand: (trackId: number) => void;
}

export function ReleaseMatch({ group, onChoose, onLines, onSearch, inHand, onInHand }: Props) {
  const candidate = group.candidates.find((c) => c.release.id === group.chosen);
  return (
    <div className="min-h-0 flex-1 overflow-y-auto bg-sheet">
      {group.candidates.length > 0 && <Versions candidates={group.candidates} chosen={candidate} onChoose={onChoose} />}
      {candidate && (
        <MatchedTracks
          key={candidate.release.id}
          group={group}
          candidate={candidate}
          onLines={onLines}
          inHand={inHand}
          onInHand={onInHand}
        />
      )}
      <OtherWords key={group.id} group={group} onSearch={onSearch} />
    </div>
  );
}

function OtherWords({ group, onSearch }: { group: GroupDetails; onSearch: Props['onSearch'] }) {
  const [query, setQuery] = useState(group.query);
  const box = (key: keyof GroupDetails['query'], label: string) => (
    <input
      value={query[key]}
      onChange={(e) => setQuery({ ...query, [key]: e.target.value })}
      aria-label={label}
      placeholder={label}
      className="min-w-0 flex-1 rounded-xs border border-line bg-sheet px-2 py-1"
    />
  );
  return (
    <form
      className="border-t border-line px-3 py-3"
      onSubmit={(e) => {
        e.preventDefault();
        onSearch(query);
      }}
    >
      <p className="mb-1.5 text-small text-dim">
        {group.candidates.length === 0
          ? 'Nothing was found. Try other words:'
          : 'Not the right one? Search with other words:'}
      </p>
      <div className="flex gap-1.5">
        {box('artist', 'Artist')}
        {box('album', 'Album')}
        {box('title', 'Title')}
        <Button type="submit">Search</Button>
      </div>
    </form>
  );
}
