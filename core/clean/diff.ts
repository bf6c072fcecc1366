/** What differs between two texts, in words and the marks between them. */

export interface Piece {
  text: string;
  kind: 'same' | 'gone' | 'new';
}

/** Words, runs of space, and single other characters. */
const tokens = (text: string): string[] => text.match(/[\p{L}\p{N}]+|\s+|[^\p{L}\p{N}\s]/gu) ?? [];
/** Beyond this the middle is shown as replaced whole; nobody reads finer marks there. */
const MAX_LENGTH = 400;

/**
 * Pieces in reading order; what is gone stands before what is new. Longest common subsequence of tokens
 * (Wagner and Fischer 1974), with equal ends taken off first.
 * @example differences('07. Dry Dock', 'Dry Dock') // gone "07. ", same "Dry Dock"
 */
export function differences(before: string, after: string): Piece[] {
  const a = tokens(before),
    b = tokens(after);
  let head = 0;
  while (head < a.length && head < b.length && a[head] === b[head]) head++;
  let tail = 0;
  while (tail < a.length - head && tail < b.length - head && a[a.length - 1 - tail] === b[b.length - 1 - tail]) tail++;
  const middleA = a.slice(head, a.length - tail),
    middleB = b.slice(head, b.length - tail);
  const middle =
    middleA.length * middleB.length > MAX_LENGTH * MAX_LENGTH
      ? [
          { text: middleA.join(''), kind: 'gone' as const },
          { text: middleB.join(''), kind: 'new' as const },
        ]
      : aligned(middleA, middleB);
  return joined([
    { text: a.slice(0, head).join(''), kind: 'same' },
    ...middle,
    { text: a.slice(a.length - tail).join(''), kind: 'same' },
  ]);
}

function aligned(a: readonly string[], b: readonly string[]): Piece[] {
  const width = b.length + 1,
    common = new Uint16Array((a.length + 1) * width);
  // Space between words weighs nothing, so that it does not hold unlike words together.
  const weight = (token: string): number => (/^\s/.test(token) ? 0 : 1);
  for (let i = a.length - 1; i >= 0; i--) {
    for (let j = b.length - 1; j >= 0; j--) {
      common[i * width + j] =
        a[i] === b[j]
          ? common[(i + 1) * width + j + 1]! + weight(a[i]!)
          : Math.max(common[(i + 1) * width + j]!, common[i * width + j + 1]!);
    }
  }
  const out: Piece[] = [];
  let i = 0,
    j = 0;
  while (i < a.length && j < b.length) {
    if (a[i] === b[j]) {
      out.push({ text: a[i]!, kind: 'same' });
      i++;
      j++;
    } else if (common[(i + 1) * width + j]! >= common[i * width + j + 1]!) out.push({ text: a[i++]!, kind: 'gone' });
    else out.push({ text: b[j++]!, kind: 'new' });
  }
  return [...out, { text: a.slice(i).join(''), kind: 'gone' }, { text: b.slice(j).join(''), kind: 'new' }];
}

/** Neighbours of a kind become one; between two same pieces, gone comes first. */
function joined(pieces: readonly Piece[]): Piece[] {
  const out: Piece[] = [];
  let gone = '',
    fresh = '';
  const flush = (): void => {
    if (gone) out.push({ text: gone, kind: 'gone' });
    if (fresh) out.push({ text: fresh, kind: 'new' });
    gone = fresh = '';
  };
  for (const { text, kind } of pieces) {
    if (!text) continue;
    if (kind === 'gone') gone += text;
    else if (kind === 'new') fresh += text;
    else {
      flush();
      const last = out.at(-1);
      if (last?.kind === 'same') last.text += text;
      else out.push({ text, kind });
    }
  }
  flush();
  return out;
}
