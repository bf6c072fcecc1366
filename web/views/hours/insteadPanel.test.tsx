import { act, cleanup, screen, waitFor } from '@testing-library/react';
import { afterEach, expect, test } from '@jest/globals';
import type { HourContents, HourLine, InsteadAnswer, InsteadLine } from '@early-set/core/api/hours';
import { serve, show, tell } from '../../testing/server.tsx';
import { useState } from 'react';
import { useStationFiles } from '../../data/hooks.ts';
import { HourPanel } from './HourPanel.tsx';
import { InsteadPanel } from './InsteadPanel.tsx';

afterEach(cleanup);
const ENTRY = 'slack';
const track = (trackId: number): InsteadLine => ({
  ...{ trackId, title: `Track ${trackId}`, artist: 'Marrow & Pine', seconds: 200, off: 0, broken: [], hard: false },
});

test('what is in hand stays so where the lines come in another order; where it is gone, the first is', async () => {
  let order = [1, 2, 3];
  serve({
    '/hours/h/instead': (): InsteadAnswer => ({
      ...{ entryId: ENTRY, next: { name: 'News', at: 1_900_000_000 }, tracks: order.map(track) },
    }),
  });
  show(<InsteadPanel hourId="h" line={{ entryId: ENTRY, kind: 'track', name: 'Slack Water' } as HourLine} />);
  const lineOf = (id: number): HTMLElement => screen.getByRole('button', { name: new RegExp(`^Track ${id},`) });
  await waitFor(() => lineOf(1));
  act(() => lineOf(1).focus());
  const comes = async (next: number[]): Promise<void> => {
    order = next;
    act(() => tell({ kind: 'tracks' }));
    await waitFor(() => expect(screen.getAllByRole('button').map((b) => Number(b.dataset.instead))).toEqual(next), {
      timeout: 4000,
    });
  };
  await comes([3, 2, 1]);
  expect(document.activeElement).toBe(lineOf(1));
  await comes([3, 2]);
  expect(document.activeElement).toBe(lineOf(3));
});

test('what was told of a place is not told again once the hour has changed', async () => {
  let told = [1, 2];
  const files: object[] = [];
  let go: (() => void) | null = null;
  serve({
    '/hours/h/instead/slack': (): InsteadAnswer | Promise<InsteadAnswer> => {
      const answer = { ...{ entryId: ENTRY, next: { name: 'News', at: 1_900_000_000 } }, tracks: told.map(track) };
      return go === null ? answer : new Promise((resolve) => (go = () => resolve(answer)));
    },
    '/station-files': () => [...files],
  });
  const hour = { id: 'h', rules: [] } as unknown as HourContents;
  const slack = { entryId: ENTRY, kind: 'track', name: 'Slack Water' } as HourLine;
  let put!: (line: HourLine | undefined) => void;
  const Panel = () => {
    const [line, setLine] = useState<HourLine | undefined>(slack);
    put = setLine;
    return (
      <>
        <output>{useStationFiles().data?.length} heard</output>
        <HourPanel hour={hour} inHand={line} draft={null} onApply={() => undefined} onDiscard={() => undefined} />
      </>
    );
  };
  show(<Panel />);
  await screen.findByRole('button', { name: /^Track 2,/ });
  await screen.findByText('0 heard');
  act(() => put(undefined));
  told = [3];
  go = () => undefined;
  files.push({});
  act(() => tell({ kind: 'tracks' }));
  await screen.findByText('1 heard');
  act(() => put(slack));
  expect(screen.queryByRole('button', { name: /^Track 2,/ })).toBeNull();
  await act(async () => go!());
  await screen.findByRole('button', { name: /^Track 3,/ });
});
