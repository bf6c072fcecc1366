/** Files that were found for tracks that were not: a draft until it is applied. */
import { useState } from 'react';
import type { FoundFile, FoundLine, NotFoundLine } from '@early-set/core/api/disk';
import type { Applied } from '@early-set/core/api/types';
import { change, perform, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';

export interface Finding {
  /** What was found, by track; null: nothing has been looked for. */
  lines: ReadonlyMap<number, FoundLine> | null;
  /** Is it being looked for? */
  busy: boolean;
  /** The file that a track would have. */
  chosen: (trackId: number) => FoundFile | null;
  choose: (trackId: number, file: FoundFile | null) => void;
  chooseAll: (files: readonly (readonly [trackId: number, file: FoundFile | null])[]) => void;
  find: () => void;
  cancel: () => void;
  /** Takes what was found by another way for the draft. */
  take: (lines: readonly FoundLine[]) => void;
  discard: () => void;
  apply: () => void;
  /** How many tracks the draft ties again. */
  count: number;
}

export function useFinding(lost: readonly NotFoundLine[]): Finding {
  const [lines, setLines] = useState<ReadonlyMap<number, FoundLine> | null>(null);
  const [said, setSaid] = useState<ReadonlyMap<number, FoundFile | null>>(new Map());
  const [looking, setLooking] = useState<AbortController | null>(null);
  const chosen = (trackId: number): FoundFile | null => {
    const by = said.get(trackId);
    return by === undefined ? (lines?.get(trackId)?.found ?? null) : by;
  };
  const drafted = lost.flatMap(({ trackId }) => {
    const file = chosen(trackId);
    return file ? [{ trackId, otherId: file.trackId, offsetSeconds: file.offsetSeconds }] : [];
  });
  const discard = (): void => {
    setLines(null);
    setSaid(new Map());
  };
  const take = (found: readonly FoundLine[]): void => {
    setLines(new Map(found.map((line) => [line.trackId, line])));
    setSaid(new Map());
  };
  return {
    lines,
    busy: looking !== null,
    chosen,
    choose: (trackId, file) => setSaid(new Map([...said, [trackId, file]])),
    chooseAll: (files) => setSaid(new Map([...said, ...files])),
    find: () => {
      const gone = new AbortController();
      setLooking(gone);
      void perform(post<FoundLine[]>('/disk/find-again', {}, gone.signal)).then((found) => {
        setLooking(null);
        if (found) take(found);
      });
    },
    cancel: () => looking?.abort(),
    take,
    discard,
    apply: () =>
      void change(
        post<Applied>('/disk/relink', { pairs: drafted }),
        `${several(drafted.length, 'track')} found again`,
      ).then((applied) => applied && discard()),
    count: drafted.length,
  };
}
