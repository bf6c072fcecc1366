/** A format clock on the page, and hours made from it. */
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { useState } from 'react';
import type { ListContents } from '@early-set/core/api/types';
import { writeClock, type KeptClock } from '@early-set/core/hours/kept';
import { listContentsOf, listLine } from '../../testing/rows.ts';
import { Refusal, serve, show, type Sent } from '../../testing/server.tsx';
import { sizedPage } from '../../testing/sized.ts';
import { ClockView } from './ClockView.tsx';

sizedPage();
const ID = 'f0000000-0000-4000-8000-000000000002';
const CLOCK: KeptClock = {
  name: 'Morning hour',
  seconds: 3600,
  items: [
    { item: 'spoken', name: 'News', seconds: 180, fixed: { at: 0, when: 'exact' } },
    { item: 'jingle', name: 'skerry jingle', seconds: 8 },
    { item: 'filler', name: 'Music', most: 12 },
  ],
  rules: [],
  times: [],
};
const info = { kind: 'clock' as const, name: CLOCK.name, startsAt: null };

let sent: Sent[], progress: { done: number; total: number } | null, held: Promise<unknown>;
beforeEach(() => {
  progress = null;
  held = Promise.resolve({
    changeSetId: 1,
    title: 'Made',
    done: 1,
    conflicts: [],
    listIds: ['x'],
    open: 0,
    skipped: [],
  });
  ({ sent } = serve({
    [`/clocks/${ID}`]: { changeSetId: 1, title: 'Done', done: 1, conflicts: [] },
    '/station-files': [{ id: 3, title: 'Skerry jingle', seconds: 6 }],
    '/hours-making': () => progress,
    '/hours': () => held,
  }));
});
afterEach(cleanup);

function Page({ clock = CLOCK }: { clock?: KeptClock }) {
  const [side, setSide] = useState<HTMLElement | null>(null);
  const list: ListContents = listContentsOf(ID, [], { ...info, clock: writeClock(clock) });
  return (
    <>
      <ClockView list={list} lists={[listLine(ID, info)]} side={side} />
      <div ref={setSide} />
    </>
  );
}
const choose = (item: number): void => {
  const row = document.querySelector(`[data-clock-item="${item}"]`)!;
  fireEvent.pointerDown(row, { button: 0 });
  fireEvent.click(row);
};
const kept = (): KeptClock => (sent.at(-1)!.body as { clock: KeptClock }).clock;

test('an item says from which file hours will play it, or that none has its name', async () => {
  show(<Page />);
  choose(1);
  expect(await screen.findByText(/Hours play the file “Skerry jingle”, 0:06/)).toBeTruthy();
  choose(0);
  expect(await screen.findByText(/No file of the kind jingle or spoken has this name/)).toBeTruthy();
  choose(2);
  await waitFor(() => expect(screen.queryByText(/has this name/)).toBeNull());
});

test('items change their place by keys and are removed; the last one stays', async () => {
  show(<Page />);
  const grid = screen.getByRole('grid', { name: 'Items of Morning hour' });
  choose(2);
  fireEvent.keyDown(grid, { key: 'ArrowUp', altKey: true });
  await waitFor(() => expect(kept().items.map((i) => i.name)).toEqual(['News', 'Music', 'skerry jingle']));
  choose(0);
  fireEvent.keyDown(grid, { key: 'Delete' });
  await waitFor(() => expect(kept().items.map((i) => i.name)).toEqual(['skerry jingle', 'Music']));
  cleanup();
  show(<Page clock={{ ...CLOCK, items: CLOCK.items.slice(0, 1) }} />);
  const before = sent.length;
  choose(0);
  fireEvent.keyDown(screen.getByRole('grid'), { key: 'Delete' });
  expect(sent.length).toBe(before);
});

test('a length is said in minutes and seconds; what is none is not kept', async () => {
  show(<Page />);
  choose(0);
  const length = await screen.findByRole('textbox', { name: 'Length' });
  fireEvent.change(length, { target: { value: 'soon' } });
  fireEvent.blur(length);
  expect(sent).toEqual([]);
  fireEvent.change(length, { target: { value: '2:30' } });
  fireEvent.blur(length);
  await waitFor(() => expect(kept().items[0]).toMatchObject({ name: 'News', seconds: 150 }));
});

const dialogOf = async (hours: string): Promise<HTMLElement> => {
  show(<Page />);
  fireEvent.click(screen.getByRole('button', { name: 'Make hours…' }));
  const dialog = await screen.findByRole('dialog', { name: 'Make hours' });
  fireEvent.change(within(dialog).getByRole('spinbutton', { name: /Hours/ }), { target: { value: hours } });
  return dialog;
};

test('while hours are made it says how many are filled; a refusal leaves the dialog as it was', async () => {
  let refuse: (answer: unknown) => void = () => undefined;
  held = new Promise((resolve) => (refuse = resolve));
  progress = { done: 5, total: 24 };
  const dialog = await dialogOf('24');
  fireEvent.click(within(dialog).getByRole('button', { name: 'Make 24 hours' }));
  expect(await within(dialog).findByText('Filling: 5 of 24 hours')).toBeTruthy();
  expect(within(dialog).getByRole('progressbar').getAttribute('value')).toBe('5');
  expect(within(dialog).getByRole<HTMLButtonElement>('button', { name: 'Make 24 hours' }).disabled).toBe(true);
  expect(sent[0]!.body).toMatchObject({ clockId: ID, hours: 24, making: expect.stringMatching(/^[0-9a-f-]{36}$/) });
  refuse(new Refusal(409, 'nothing-to-do', 'These hours are there already'));
  await waitFor(() => expect(within(dialog).queryByText(/Filling/)).toBeNull());
  expect(within(dialog).getByRole<HTMLButtonElement>('button', { name: 'Make 24 hours' }).disabled).toBe(false);
});

test.each(['0', '745', '1.5', ''])('"%s" is no number of hours', async (hours) => {
  const dialog = await dialogOf(hours);
  expect(within(dialog).getByRole<HTMLButtonElement>('button', { name: 'Make hours' }).disabled).toBe(true);
});
