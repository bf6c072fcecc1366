import { afterEach, describe, expect, jest, test } from '@jest/globals';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import type { Grid } from '@early-set/core/analysis/gridOf';
import type { Mark } from '@early-set/core/fields/marks';
import { loopEnd, MarksPanel } from './MarksPanel.tsx';

const GRID = { beats: Array.from({ length: 64 }, (_, i) => 0.25 + i * 0.5), beatsPerBar: 4 } as unknown as Grid;
const CUES: Mark[] = [
  { at: 4.31, name: 'Drop', colour: 'buoy' },
  { at: 4.31, end: 12.2, colour: 'kelp' },
  { at: 20.02 },
];

function shown(cues: readonly Mark[], repeated: { from: number; to: number } | null = null) {
  const onSave = jest.fn<(cues: readonly Mark[], say: string) => void>(),
    onJump = jest.fn<(mark: Mark) => void>(),
    onAdd = jest.fn<(loop: boolean) => void>();
  render(<MarksPanel cues={cues} grid={GRID} repeated={repeated} onJump={onJump} onAdd={onAdd} onSave={onSave} />);
  return { onSave, onJump, onAdd, saved: () => onSave.mock.lastCall! };
}
afterEach(cleanup);

describe('cues and loops', () => {
  test('with none, it says how to make one', () => {
    const { onAdd } = shown([]);
    expect(screen.getByText(/None yet/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Put all on the beat' })).toBeNull();
    fireEvent.click(screen.getByRole('button', { name: 'Loop' }));
    fireEvent.click(screen.getByRole('button', { name: 'Add cue' }));
    expect(onAdd.mock.calls).toEqual([[true], [false]]);
  });

  test('only the loop that is played over and over says so', () => {
    shown(CUES, { from: 4.31, to: 12.2 });
    expect(screen.getAllByLabelText('Repeats')).toHaveLength(1);
    expect(screen.getAllByRole('listitem')[1]!.contains(screen.getByLabelText('Repeats'))).toBe(true);
  });

  test('jumping hands over the whole mark, so that a loop can be played', () => {
    const { onJump } = shown(CUES);
    fireEvent.click(screen.getByRole('button', { name: 'Jump to loop 2' }));
    expect(onJump.mock.lastCall).toEqual([CUES[1]]);
  });

  test('names are kept when they change, and only then', () => {
    const { onSave, saved } = shown(CUES);
    const name = screen.getByLabelText('Name of cue 1');
    fireEvent.blur(name);
    expect(onSave).not.toHaveBeenCalled();
    fireEvent.change(name, { target: { value: '  First drop ' } });
    fireEvent.blur(name);
    expect(saved()).toEqual([[{ ...CUES[0], name: 'First drop' }, CUES[1], CUES[2]], 'Cue renamed']);
  });

  test('a colour of our palette is chosen, a mark is deleted', () => {
    const { saved } = shown(CUES);
    fireEvent.change(screen.getByLabelText('Colour of cue 3'), { target: { value: 'tide' } });
    expect(saved()[0][2]).toEqual({ at: 20.02, colour: 'tide' });
    fireEvent.click(screen.getByRole('button', { name: 'Delete cue 2' }));
    expect(saved()).toEqual([[CUES[0], CUES[2]], 'Loop deleted']);
  });

  test('put on the beat, loops keep a length', () => {
    const { saved } = shown(CUES);
    fireEvent.click(screen.getByRole('button', { name: 'Put all on the beat' }));
    expect(saved()).toEqual([
      [{ ...CUES[0], at: 4.25 }, { ...CUES[1], at: 4.25, end: 12.25 }, { at: 20.25 }],
      'Every cue put on the beat',
    ]);
  });
});

test('a loop ends some bars on, or after eight seconds where the grid ends', () => {
  expect(loopEnd(GRID, 0.25, 4)).toBe(8.25);
  expect(loopEnd(GRID, 30, 4)).toBe(38);
  expect(loopEnd({ ...GRID, beats: [] } as unknown as Grid, 3, 4)).toBe(11);
});
