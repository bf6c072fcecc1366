import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { Condition } from '@early-set/core/conditions/condition';
import type { Rule } from '@early-set/core/conditions/rule';
import { serve, show, type Sent } from '../../testing/server.tsx';
import { RuleDialog, type RuleAsk } from './RuleDialog.tsx';

const LISTS = [
  { id: 'own', name: 'Own', kind: 'crate', removed: false, parentId: null, rule: '{}', tracks: 0 },
  { id: 'other', name: 'Skerry', kind: 'crate', removed: false, parentId: null, rule: null, tracks: 0 },
];
let sent: Sent[];
let asked: Condition[];
let closed: number;
beforeEach(() => {
  closed = 0;
  asked = [];
  ({ sent } = serve({
    '/lists/own': { changeSetId: 1, title: 'Other conditions', done: 1, conflicts: [] },
    '/lists': (body: unknown) => (body ? { changeSetId: 1, title: 'New', done: 1, conflicts: [], listId: 'x' } : LISTS),
    '/roots': [{ id: 3, label: 'Music' }],
    '/tracks': (_: unknown, { searchParams }: URL) => {
      asked.push(JSON.parse(searchParams.get('where')!) as Condition);
      return { total: 812, rows: [{ id: 1, values: { artist: ['Vesna Rook'], title: 'Lamp Room' } }] };
    },
    '/values': [],
  }));
});
afterEach(cleanup);

const HOUSE: Rule = { where: { field: 'genre', test: 'one of', values: ['House'] } };
const open = (ask: Partial<RuleAsk> = {}): void =>
  void show(<RuleDialog ask={{ listId: null, name: 'House', rule: HOUSE, ...ask }} onClose={() => closed++} />);
const press = (name: string, at = 0): void => {
  fireEvent.click(screen.getAllByRole('button', { name })[at]!);
};
const set = (label: string, value: string, at = -1): void => {
  fireEvent.change(screen.getAllByLabelText(label).at(at)!, { target: { value } });
};
const rule = (): Rule => (sent.find((s) => s.body && 'rule' in (s.body as object))!.body as { rule: Rule }).rule;

describe('the conditions of a crate', () => {
  test('are built row by row, in groups; what is not whole yet is left out; the count follows', async () => {
    open();
    expect(await screen.findByText('812 tracks')).toBeTruthy();
    expect(screen.getByText('Vesna Rook – Lamp Room')).toBeTruthy();
    press('Condition');
    set('What', 'bpm');
    await waitFor(() => expect(asked.at(-1)).toEqual(HOUSE.where));
    set('From', '118');
    set('To', '126,5');
    press('Group');
    set('What', 'key');
    set('Test', '-|near key');
    set('Fifths away', '2');
    press('Make the crate');
    await waitFor(() => expect(closed).toBe(1));
    expect(rule().where).toEqual({
      all: [
        HOUSE.where,
        { field: 'bpm', test: 'between', low: 118, high: 126.5 },
        { not: { field: 'key', test: 'near key', key: 'A minor', reach: 2 } },
      ],
    });
  });

  test('of a crate that is there are saved to it; none of them, other lists, days, yes and no', async () => {
    open({ listId: 'own' });
    await screen.findByText('812 tracks');
    set('How many must hold', 'none');
    press('Condition');
    set('What', 'list');
    const picker = await screen.findByLabelText('Crate or playlist');
    await within(picker).findByText('Skerry');
    expect(within(picker).queryByText('Own')).toBeNull();
    fireEvent.change(picker, { target: { value: 'other' } });
    press('Condition');
    set('What', 'addedAt');
    set('Days', '90');
    press('Condition');
    set('What', 'hearLater');
    set('Test', '-|is');
    press('Remove the condition');
    press('Save the conditions');
    await waitFor(() => expect(closed).toBe(1));
    expect(sent.at(-1)!.path).toBe('/lists/own');
    expect(rule().where).toEqual({
      not: {
        any: [
          { inLists: ['other'] },
          { field: 'addedAt', test: 'in the last', days: 90 },
          { not: { field: 'hearLater', test: 'is', value: true } },
        ],
      },
    });
  });

  test('may be limited by an order or by chance, whose draw is kept', async () => {
    open({ listId: 'own', rule: { ...HOUSE, limit: { count: 50, by: 'year', descending: true } } });
    await screen.findByText('50 tracks');
    set('At most so many', '20');
    await screen.findByText('20 tracks');
    set('By', 'random');
    press('Save the conditions');
    await waitFor(() => expect(closed).toBe(1));
    expect(rule().limit).toEqual({ count: 20, by: 'random', seed: expect.any(Number) });
  });
});
