/** The programs that the library can be handed over to. A further one is a line here, and a folder of its own. */
import type { Format } from '@early-set/core/exchange/collection';
import { programOf } from '@early-set/core/exchange/programs';
import { dunlin } from './dunlin/home.ts';
import type { Home } from './home.ts';
import { plover } from './plover/home.ts';

const HOMES: Readonly<Record<string, Home>> = { plover, dunlin };

export interface Program {
  format: Format;
  home: Home;
}

/** @throws RangeError for a program that is not known */
export const programFor = (kind: string): Program => ({ format: programOf(kind), home: HOMES[kind]! });
