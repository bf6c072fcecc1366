/** Makes all music whose truth is known, and takes what is heard of it: what fitting and measuring begin with. */
import { excerptsOf } from './excerpts.ts';
import { allPieces, heardOf } from './material.ts';

const cache = process.env.BENCH_CACHE!;
const pieces = await allPieces(cache);
await heardOf([...pieces, ...excerptsOf(pieces)], cache);
console.log(`${pieces.length} pieces are made and heard, whole and cut`);
