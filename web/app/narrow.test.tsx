/** On a narrow page the columns of a stage take turns, and a track judged by ear has the page to itself. */
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { act, cleanup, fireEvent, screen } from '@testing-library/react';
import { show } from '../testing/server.tsx';
import { StageLayout } from './StageLayout.tsx';

let narrow = true;
let heard: (() => void)[] = [];
const before = globalThis.matchMedia as typeof matchMedia | undefined;
beforeEach(() => {
  narrow = true;
  heard = [];
  globalThis.matchMedia = (() => ({
    get matches() {
      return narrow;
    },
    addEventListener: (_: string, hear: () => void) => heard.push(hear),
    removeEventListener: () => undefined,
  })) as unknown as typeof matchMedia;
});
afterEach(() => {
  cleanup();
  globalThis.matchMedia = before!;
});

const side = (what: string): { what: string; width: number; min: number; max: number; content: string } => ({
  ...{ what, width: 200, min: 100, max: 300 },
  content: `what is ${what}`,
});

test('one column at a time, the middle first; beside each other once there is room', () => {
  show(
    <StageLayout stage="tracks" middleMin={300} left={side('left')} right={side('right')}>
      what is in the middle
    </StageLayout>,
  );
  expect(screen.getByText('what is in the middle')).not.toBeNull();
  expect(screen.queryByText('what is left')).toBeNull();
  fireEvent.click(screen.getByRole('radio', { name: 'Filters' }));
  expect(screen.getByText('what is left')).not.toBeNull();
  expect(screen.queryByText('what is in the middle')).toBeNull();
  fireEvent.click(screen.getByRole('radio', { name: 'Inspector' }));
  expect(screen.getByText('what is right')).not.toBeNull();
  narrow = false;
  act(() => heard.forEach((hear) => hear()));
  expect(screen.queryByRole('radio')).toBeNull();
  for (const words of ['what is left', 'what is in the middle', 'what is right'])
    expect(screen.getByText(words)).not.toBeNull();
});
