/** What the library can be compared with. A further program is a line here, and a folder of its own. */
import type { Format } from '@early-set/core/exchange/collection';
import { programOf } from '@early-set/core/exchange/programs';
import { bundle } from './bundle/home.ts';
import { dunlin } from './dunlin/home.ts';
import type { Home } from './home.ts';
import { plover } from './plover/home.ts';

const HOMES: Readonly<Record<string, Home>> = { plover, dunlin, bundle };

export interface Program {
  format: Format;
  home: Home;
}

/** @throws RangeError for a program that is not known */
export const programFor = (kind: string): Program => ({ format: programOf(kind), home: HOMES[kind]! });
