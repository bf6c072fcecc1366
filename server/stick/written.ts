/**
 * What was written to a stick, kept at the desk and not on the stick. Each step is a line of its own; that a file is
 * about to be is on the drive before it is: a killed process leaves no file that nobody knows.
 */
import {
  appendFileSync,
  closeSync,
  existsSync,
  fsyncSync,
  mkdirSync,
  openSync,
  readFileSync,
  renameSync,
  writeSync,
} from 'node:fs';
import { dirname } from 'node:path';
import type { WrittenFile } from '@early-set/core/stick/compare';
import { sameName } from '@early-set/core/stick/layout';

type Line = { will: WrittenFile; over?: boolean } | { is: string; hash?: string | undefined } | { gone: string };

export interface Written {
  /** Files that were written whole, and those of which only the stick can say whether they are: by their size. */
  files(sizes: ReadonlyMap<string, number>): WrittenFile[];
  /** Is about to take its name. @param over one of ours has that name until it does */
  will(file: WrittenFile, over?: boolean): void;
  /** Has its name, and is on the stick. */
  is(path: string, hash?: string): void;
  gone(path: string): void;
}

interface Known {
  file: WrittenFile;
  whole: boolean;
  /** It is to take the place of one of ours: where that broke off nobody can say which of both is there. */
  over?: boolean | undefined;
  /** SHA-256 of its bytes, where it is known. */
  hash?: string | undefined;
}

/** What was written, by the names that FAT tells apart. */
type All = Map<string, Known>;

function known(text: string): All {
  const all: All = new Map();
  for (const line of text.split('\n')) {
    const said = parsed(line);
    if (said === null) continue;
    if ('will' in said) all.set(sameName(said.will.path), { file: said.will, over: said.over, whole: false });
    else if ('gone' in said) all.delete(sameName(said.gone));
    else {
      const one = all.get(sameName(said.is));
      if (one) Object.assign(one, { whole: true, hash: said.hash });
    }
  }
  return all;
}

/** The last line of a process that was killed may be half of one. */
function parsed(line: string): Line | null {
  try {
    return JSON.parse(line) as Line;
  } catch {
    return null;
  }
}

const wholeOf = (all: All, sizes: ReadonlyMap<string, number>): Known[] => {
  const there = new Map([...sizes].map(([name, size]) => [sameName(name), size]));
  return [...all.values()].flatMap((one) => {
    const { file, whole, over } = one;
    const size = there.get(sameName(file.path));
    if (over && !whole && size !== undefined) return [{ file: { ...file, size, sound: UNSURE }, whole }];
    return whole || size === file.size ? [one] : [];
  });
};
/** No sound that anything has: it is made anew. */
const UNSURE = 'not sure';
const kept = (path: string): All => known(existsSync(path) ? readFileSync(path, 'utf8') : '');

/** What is kept in a file, for somebody who does not write. */
export const readWritten = (path: string, sizes: ReadonlyMap<string, number>): (WrittenFile & { hash?: string })[] =>
  wholeOf(kept(path), sizes).map(({ file, hash }) => ({ ...file, ...(hash ? { hash } : {}) }));

/** Opens what is kept in a file, and writes it anew without what is over. */
export function openWritten(path: string): Written {
  mkdirSync(dirname(path), { recursive: true });
  const all = kept(path);
  const growing = `${path}.new`;
  const file = openSync(growing, 'w');
  for (const { file: one, whole, over, hash } of all.values()) {
    writeSync(file, `${JSON.stringify({ will: one, ...(over ? { over } : {}) } satisfies Line)}\n`);
    if (whole) writeSync(file, `${JSON.stringify({ is: one.path, ...(hash ? { hash } : {}) } satisfies Line)}\n`);
  }
  fsyncSync(file);
  closeSync(file);
  renameSync(growing, path);
  // What is about to be is on the drive before it is; what has become of it the stick says too.
  const say = (line: Line): void =>
    appendFileSync(path, `${JSON.stringify(line)}\n`, 'will' in line ? { flush: true } : {});
  return {
    files: (sizes) => wholeOf(all, sizes).map(({ file: one }) => one),
    will(one, over) {
      say({ will: one, ...(over ? { over } : {}) });
      all.set(sameName(one.path), { file: one, over, whole: false });
    },
    is(name, hash) {
      say({ is: name, ...(hash ? { hash } : {}) });
      const one = all.get(sameName(name));
      if (one) Object.assign(one, { whole: true, hash });
    },
    gone(name) {
      say({ gone: name });
      all.delete(sameName(name));
    },
  };
}
