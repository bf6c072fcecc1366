/** Crates that follow folders: which there are, where they lie, and what becomes of them when folders change. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { applyEdit } from '../changes/kinds/editList.ts';
import type { ListInfo, ListState } from '../changes/snapshot.ts';
import { DEFAULT_MIRROR, mirroredPath, planMirror, topRule, type MirrorSettings, type MirrorWish } from './mirror.ts';

const SETTINGS: MirrorSettings = {
  rootId: 1,
  path: 'Crates',
  ...DEFAULT_MIRROR,
};
const INFO: ListInfo = {
  kind: 'crate',
  name: 'Crates',
  parentId: null,
  position: 1,
  removed: false,
  startsAt: null,
  shape: null,
  rule: topRule(SETTINGS),
  colour: null,
  note: null,
  wishedSeconds: null,
  reserveId: null,
  mirror: JSON.stringify(SETTINGS),
  mirrorOf: 'top',
  clock: null,
  onAirAt: null,
};

/** A mirror that is kept up to date; folders are told with their files. */
function mirror(settings: Partial<MirrorSettings> = {}) {
  const own = { ...SETTINGS, ...settings };
  const lists = new Map<string, ListState>();
  let number = 0;
  const missing: { folder: string; key: string }[] = [];
  let last: Record<string, string[]> = {};
  return {
    lists,
    /** What is missing stays known by the place where it was. */
    update(folders: Record<string, string[]>, wish: Partial<MirrorWish> = {}) {
      const all = (of: Record<string, string[]>) =>
        Object.entries(of).flatMap(([folder, keys]) => keys.map((key) => ({ folder, key })));
      const now = all(folders);
      const isThere = (f: { folder: string; key: string }): boolean =>
        now.some((n) => n.folder === f.folder && n.key === f.key);
      missing.push(...all(last).filter((f) => !isThere(f)));
      last = folders;
      const plan = planMirror({
        settings: own,
        top: { id: 'top', info: INFO },
        crates: [...lists].map(([id, { info }]) => ({ id, info })),
        folders: Object.entries(folders).map(([path, keys]) => ({ path, tracks: keys.length })),
        files: [...now.map((f) => ({ ...f, here: true })), ...missing.map((f) => ({ ...f, here: false }))],
        nameOf: (path) => path.split('/').at(-1)!,
        newId: () => `n${++number}`,
        ...wish,
      });
      for (const { listId, edit } of plan.items) lists.set(listId, applyEdit(lists.get(listId), edit)!);
      return plan;
    },
    /** The tree as lines: name, and in what it lies. */
    tree: () =>
      [...lists.values()]
        .filter(({ info }) => !info.removed)
        .map(({ info }) => `${info.parentId === 'top' ? '' : `${lists.get(info.parentId!)!.info.name} > `}${info.name}`)
        .sort(),
  };
}

const HOUSE = { 'Crates/House': ['a', 'b'], 'Crates/House/Late': ['c'], 'Crates/Dub/Deep/Slow': ['d'], Other: ['e'] };

describe('which folders get a crate', () => {
  test('those with tracks; what holds only folders is passed over, or has one too', () => {
    const plain = mirror();
    expect(plain.update(HOUSE).report).toEqual({ found: 3, made: 3, moved: 0, gone: 0 });
    expect(plain.tree()).toEqual(['House', 'House > Late', 'Slow']);
    const whole = mirror({ onlyWithTracks: false });
    whole.update(HOUSE);
    expect(whole.tree()).toEqual(['Deep > Slow', 'Dub', 'Dub > Deep', 'House', 'House > Late']);
  });
  test('so many deep; the last level holds what lies deeper', () => {
    const one = mirror({ depth: 1 });
    one.update(HOUSE);
    expect(one.tree()).toEqual(['Dub', 'House']);
    expect([...one.lists.values()].map(({ info }) => info.rule)).toEqual([
      '{"where":{"inFolder":{"rootId":1,"path":"Crates/Dub"},"below":true}}',
      '{"where":{"inFolder":{"rootId":1,"path":"Crates/House"},"below":true}}',
    ]);
  });
  test('not what is left out, nor what lies in it', () => {
    const some = mirror({ leftOut: ['Crates/House'] });
    some.update(HOUSE);
    expect(some.tree()).toEqual(['Slow']);
  });
  test('a second look changes nothing', () => {
    const plain = mirror();
    plain.update(HOUSE);
    expect(plain.update(HOUSE)).toEqual({ items: [], report: { found: 3, made: 0, moved: 0, gone: 0 } });
  });
});

describe('when folders change', () => {
  test('a renamed folder keeps its crate, and its folders theirs', () => {
    const plain = mirror();
    plain.update(HOUSE);
    const before = new Map(plain.lists);
    const { report } = plain.update({
      'Crates/Deep house': ['a', 'b'],
      'Crates/Deep house/Late': ['c'],
      'Crates/Dub/Deep/Slow': ['d'],
    });
    expect(report).toEqual({ found: 3, made: 0, moved: 2, gone: 0 });
    expect([...plain.lists.keys()]).toEqual([...before.keys()]);
    expect(plain.tree()).toEqual(['Deep house', 'Deep house > Late', 'Slow']);
  });
  test('a name that was given by hand stays', () => {
    const plain = mirror();
    plain.update({ 'Crates/House': ['a', 'b'] });
    const [id, state] = [...plain.lists][0]!;
    plain.lists.set(id, { ...state, info: { ...state.info, name: 'Best of house' } });
    plain.update({ 'Crates/Deep house': ['a', 'b'] });
    expect(plain.tree()).toEqual(['Best of house']);
  });
  test('one that is gone stays, or is removed and comes back with its folder', () => {
    const stays = mirror();
    stays.update(HOUSE);
    expect(stays.update({ 'Crates/House': ['a', 'b'] }).report).toEqual({ found: 1, made: 0, moved: 0, gone: 2 });
    expect(stays.tree()).toHaveLength(3);
    const goes = mirror({ gone: 'remove' });
    goes.update(HOUSE);
    goes.update({ 'Crates/House': ['a', 'b'] });
    expect(goes.tree()).toEqual(['House']);
    expect(goes.update(HOUSE).report).toMatchObject({ made: 0 });
    expect(goes.tree()).toEqual(['House', 'House > Late', 'Slow']);
  });
  test('another folder with a few of the same files is not the same folder', () => {
    const plain = mirror();
    plain.update({ 'Crates/House': ['a', 'b', 'c', 'd', 'e'] });
    expect(plain.update({ 'Crates/Other': ['a', 'b'] }).report).toEqual({ found: 1, made: 1, moved: 0, gone: 1 });
  });
  test('whatever happens, each wanted folder has one crate that is not removed', () => {
    const names = fc.constantFrom('a', 'b', 'c');
    const path = fc.array(names, { minLength: 1, maxLength: 3 }).map((p) => `Crates/${p.join('/')}`);
    const state = fc.dictionary(path, fc.uniqueArray(fc.constantFrom('1', '2', '3', '4'), { minLength: 1 }));
    fc.assert(
      fc.property(fc.array(state, { minLength: 1, maxLength: 5 }), fc.boolean(), (states, removes) => {
        const plain = mirror({ gone: removes ? 'remove' : 'stay' });
        for (const folders of states) {
          const { report } = plain.update(folders);
          const there = [...plain.lists.values()].filter(({ info }) => !info.removed);
          const paths = there.map(({ info }) => mirroredPath(info.rule)!);
          expect(new Set(paths).size).toBe(paths.length);
          for (const wanted of Object.keys(folders)) expect(paths).toContain(wanted);
          expect(report.found).toBe(Object.keys(folders).length);
          if (removes) expect(paths).toHaveLength(report.found);
        }
      }),
    );
  });
});
