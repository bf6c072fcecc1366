/** Before and after in one line: what goes is struck through, what comes is marked. */
import { differences } from '@early-set/core/clean/diff';

export function Difference({ before, after }: { before: string; after: string }) {
  return (
    <>
      {differences(before, after).map((piece, i) =>
        piece.kind === 'same' ? (
          <span key={i}>{piece.text}</span>
        ) : piece.kind === 'gone' ? (
          <del key={i} className="text-flare decoration-1">
            {piece.text}
          </del>
        ) : (
          <ins key={i} className="bg-kelp/15 font-semibold text-kelp no-underline">
            {piece.text}
          </ins>
        ),
      )}
    </>
  );
}
