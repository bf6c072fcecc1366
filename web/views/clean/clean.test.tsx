import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { act, cleanup, fireEvent, renderHook, screen, within } from '@testing-library/react';
import { DEFAULT_SETTINGS } from '@early-set/core/api/settings';
import type { NameGroup } from '@early-set/core/clean/nameGroup';
import type { CleanResult, Question } from '@early-set/core/clean/runSteps';
import { newStep, STEP_KINDS, type Step, type StepKindId } from '@early-set/core/clean/steps';
import { serve, show } from '../../testing/server.tsx';
import { forget } from '../../data/remembered.ts';
import { CleanInspector } from './CleanInspector.tsx';
import { NamePatterns } from './NamePatterns.tsx';
import { useSteps } from './useSteps.ts';
import { scopeSelection } from './scope.ts';
import { StepBody } from './options/StepBody.tsx';

beforeEach(() => {
  forget('clean-steps');
  serve({
    '/clean/genres': [
      ['House', 9],
      ['house', 2],
      ['Techno', 3],
    ],
    '/settings': DEFAULT_SETTINGS,
    '/overview': { tracks: 0, measured: 0, totalSeconds: 0, unwritten: 0, stages: {} },
    '/runs': [],
  });
});
afterEach(cleanup);

describe('the steps in hand', () => {
  test('steps are added, moved, switched and removed', () => {
    const { result } = renderHook(() => useSteps());
    const kinds = (): string[] => result.current.preset.steps.map((s) => s.kind);
    const first = kinds();
    act(() => {
      result.current.add('replace');
    });
    expect(kinds()).toEqual([...first, 'replace']);
    const ids = result.current.preset.steps.map((s) => s.id);
    act(() => result.current.move(ids.at(-1)!, ids[0]!));
    expect(kinds()).toEqual(['replace', ...first]);
    act(() => result.current.move(ids[0]!, 'nothing'));
    expect(kinds()).toEqual(['replace', ...first]);
    act(() => result.current.change({ ...result.current.preset.steps[0]!, on: false }));
    expect(result.current.preset.steps[0]!.on).toBe(false);
    act(() => result.current.remove(ids.at(-1)!));
    expect(kinds()).toEqual(first);
  });
  test('a preset that is loaded gets ids of its own, so that it can be taken twice', () => {
    const { result } = renderHook(() => useSteps());
    const step = newStep('marks', 'same');
    act(() => result.current.take({ name: 'Mine', steps: [step, step] }, 4));
    expect(result.current.preset).toMatchObject({ id: 4, name: 'Mine' });
    expect(new Set(result.current.preset.steps.map((s) => s.id)).size).toBe(2);
  });
});

describe('options of steps', () => {
  const open = (kind: StepKindId, options: object = {}): { change: jest.Mock<(step: Step) => void> } => {
    const change = jest.fn<(step: Step) => void>();
    show(<StepBody step={newStep(kind, 's', options)} onChange={change} trouble={null} />);
    return { change };
  };
  test.each(STEP_KINDS.filter((k) => k.id !== 'rule').map((k) => k.id))(
    '%s can be opened, and every switch in it changes just its option',
    (kind) => {
      const { change } = open(kind);
      for (const box of screen.queryAllByRole('checkbox')) {
        change.mockClear();
        fireEvent.click(box);
        const changed = change.mock.calls[0]![0];
        const differing = Object.keys(changed.options).filter(
          (k) => JSON.stringify(changed.options[k as never]) !== JSON.stringify(newStep(kind, 's').options[k as never]),
        );
        expect(differing).toHaveLength(1);
      }
    },
  );
  test('fields are taken in and out in the order of the step', () => {
    const { change } = open('marks');
    fireEvent.click(screen.getByRole('button', { name: 'Artist' }));
    expect(change.mock.calls[0]![0].fields).toEqual(['title', 'version', 'album', 'comment']);
  });
  test('alike genres are suggested, and accepted into the table', async () => {
    const { change } = open('genres');
    fireEvent.click(await screen.findByRole('button', { name: /house \(2\)/ }));
    expect(change.mock.calls[0]![0].options).toMatchObject({ table: [{ from: 'house', to: ['House'] }] });
  });
});

describe('patterns in file names', () => {
  const groups: NameGroup[] = [
    {
      key: '1:In\ntext|text',
      rootId: 1,
      folder: 'In',
      pattern: ['artist', 'undefined'],
      sure: 0.5,
      reason: 'by position',
      byHand: false,
      members: ['a - b', 'c - d', 'e - f'].map((stem, i) => ({ id: i + 1, stem, parts: stem.split(' - ') })),
    },
  ];
  const step = newStep('names', 'n') as Step & { kind: 'names' };
  const open = (): jest.Mock<(s: Step) => void> => {
    const change = jest.fn<(s: Step) => void>();
    show(<NamePatterns step={step} groups={groups} onChange={change} onClose={() => undefined} />);
    return change;
  };
  test('undefined parts are counted; a meaning goes to the group', () => {
    const change = open();
    expect(screen.getByText('1 pattern, 1 to check before they are applied')).toBeTruthy();
    fireEvent.change(screen.getByLabelText('Part 2 is'), { target: { value: 'title' } });
    expect(change.mock.calls[0]![0].options).toMatchObject({ patterns: { '1:In\ntext|text': ['artist', 'title'] } });
  });
  test('no two parts mean the same', () => {
    const change = open();
    fireEvent.change(screen.getByLabelText('Part 2 is'), { target: { value: 'artist' } });
    expect(change.mock.calls[0]![0].options).toMatchObject({
      patterns: { '1:In\ntext|text': ['undefined', 'artist'] },
    });
  });
  test('what is unsure is confirmed by one click', () => {
    const change = jest.fn<(s: Step) => void>();
    const unsure: NameGroup = { ...groups[0]!, pattern: ['artist', 'title'], sure: 0.6 };
    const view = show(<NamePatterns step={step} groups={[unsure]} onChange={change} onClose={() => undefined} />);
    fireEvent.click(screen.getByRole('button', { name: 'Confirm' }));
    expect(change.mock.calls[0]![0].options).toMatchObject({ patterns: { '1:In\ntext|text': ['artist', 'title'] } });
    view.unmount();
    show(<NamePatterns step={step} groups={[{ ...unsure, sure: 0.9 }]} onChange={change} onClose={() => undefined} />);
    expect(screen.queryByRole('button', { name: 'Confirm' })).toBeNull();
    expect(screen.getByText('1 pattern, none to check')).toBeTruthy();
  });
  test('or to chosen names only', () => {
    const change = open();
    fireEvent.click(screen.getByLabelText('Choose c - d'));
    fireEvent.change(screen.getByLabelText('Part 1 is'), { target: { value: 'album' } });
    expect(change.mock.calls[0]![0].options).toMatchObject({ rows: { 2: ['album', 'undefined'] } });
  });
  test('one odd name is split by hand', () => {
    const change = open();
    fireEvent.click(screen.getByRole('button', { name: 'Split a - b by hand' }));
    const line = screen.getByLabelText(/^Parts of a - b/);
    fireEvent.change(line, { target: { value: 'a - b' } });
    fireEvent.submit(line);
    expect(change.mock.calls[0]![0].options).toMatchObject({ splits: { 1: ['a - b'] } });
  });
});

describe('before it is applied', () => {
  const question = (trackId: number, answer: Question['answer'] = null): Question => ({
    stepId: 's',
    trackId,
    field: 'title',
    before: 'The Boatyard Tapes',
    about: 'emptied',
    reason: 'It would leave the title empty',
    answer,
  });
  const result = (questions: Question[]): CleanResult => ({
    changes: [{ id: 9, fields: [{ field: 'title', before: 'a_b', after: 'a b' }] }],
    steps: [],
    questions,
    lockedTracks: 2,
  });
  const open = (questions: Question[]) => {
    const answer = jest.fn<(key: string, given: 'keep' | 'go' | null) => void>(),
      apply = jest.fn(),
      patterns = jest.fn<(stepId: string) => void>();
    const r = result(questions);
    show(
      <CleanInspector
        clean={{ tracks: null, result: r, error: null, busy: false, again: () => undefined }}
        steps={[newStep('remove', 's')]}
        draft={r.changes}
        inHand={null}
        nameOf={(id) => `Track ${id}`}
        onAnswer={answer}
        onShow={() => undefined}
        onPatterns={patterns}
        onLeaveOut={() => undefined}
        onWriteLater={() => undefined}
        onDiscard={() => undefined}
        onApply={apply}
        applying={false}
      />,
    );
    return { answer, apply, patterns };
  };
  test('it says what it comes to, and applies', () => {
    const { apply } = open([]);
    const card = within(screen.getByTestId('draft-card'));
    expect(card.getByText('1 change drafted')).toBeTruthy();
    fireEvent.click(card.getByRole('button', { name: 'Apply' }));
    expect(apply).toHaveBeenCalledTimes(1);
    expect(screen.getByText('Fields you locked: 2 tracks')).toBeTruthy();
  });
  test('of names that are understood unsurely the patterns are one click away', () => {
    const { answer, patterns } = open([
      { ...question(1), about: 'unsure' },
      { ...question(2), about: 'unsure' },
    ]);
    fireEvent.click(screen.getByRole('button', { name: 'Check the patterns' }));
    expect(patterns).toHaveBeenCalledWith('s');
    fireEvent.click(screen.getByRole('button', { name: 'Apply all' }));
    expect(answer).toHaveBeenLastCalledWith('s:*', 'go');
  });
  test('questions are answered one by one, or all of a step', () => {
    const { answer } = open([question(1), question(2), question(3, 'keep')]);
    fireEvent.click(screen.getAllByRole('button', { name: 'Empty it' })[1]!);
    expect(answer).toHaveBeenLastCalledWith('s:2:title', 'go');
    fireEvent.click(screen.getByRole('button', { name: 'Keep all' }));
    expect(answer).toHaveBeenLastCalledWith('s:*', 'keep');
    fireEvent.click(screen.getByRole('button', { name: 'Ask again' }));
    expect(answer).toHaveBeenLastCalledWith('s', null);
  });
});

test('which tracks: those of a list, of a folder, or what was chosen in the sheet', () => {
  expect(scopeSelection({ what: 'list', id: 'l', name: 'L' })).toEqual({ where: { inLists: ['l'] }, except: [] });
  expect(scopeSelection({ what: 'chosen', label: 'Two', selection: { ids: [3, 5] } })).toEqual({ ids: [3, 5] });
  expect(scopeSelection({ what: 'folder', ref: { rootId: 2, path: 'Inbox' }, label: 'Shelf / Inbox' })).toEqual({
    where: { inFolder: { rootId: 2, path: 'Inbox' }, below: true },
    except: [],
  });
});
