/** A track made into an item of a playout system: WAV at its rate and loudness, with the chunks that it is known by. */
import { rmSync } from 'node:fs';
import type { Levelled } from '@early-set/core/level/level';
import type { TrackValues } from '@early-set/core/fields/values';
import { writeBext } from '@early-set/core/playout/bext';
import { writeCart } from '@early-set/core/playout/cart';
import { bextOf, cartOf, itemId } from '@early-set/core/playout/item';
import type { PlayoutSystem } from '@early-set/core/playout/system';
import { setWaveChunks } from '@early-set/core/tags/containers/iff';
import { applySplices, withSource } from '../files/tagFile.ts';
import { probe } from '../media/decode.ts';
import { convertFile } from '../media/convert.ts';

export interface ItemWish {
  source: string;
  /** Where it is made; what is there goes. */
  to: string;
  values: TrackValues;
  system: PlayoutSystem;
  /** When; ISO 8601. */
  at: string;
}

/**
 * Makes it, and measures what came out.
 * @throws RangeError with a sentence where it has no ID, or cannot be brought to the loudness
 */
export async function makeItem(wish: ItemWish, signal?: AbortSignal): Promise<Levelled> {
  const { source, to, values, system, at } = wish;
  const id = itemId(values.playoutId, system);
  if (id === null) throw new RangeError('It has no ID');
  const level = { lufs: system.lufs, ceilingDbtp: system.ceilingDbtp };
  const levelled = await convertFile(
    { source, to, format: 'wav', kbps: null, level, sampleRate: system.hertz },
    signal,
  );
  if (!levelled?.reached) {
    rmSync(to, { force: true });
    throw new RangeError(`It cannot be brought to ${system.lufs} LUFS`);
  }
  const { durationSeconds } = await probe(to, signal);
  const { integratedLufs, truePeakDbtp } = levelled.measured;
  const loudness = {
    ...{ value: integratedLufs, maxTruePeak: truePeakDbtp },
    ...{ range: null, maxMomentary: null, maxShortTerm: null },
  };
  const chunks = {
    bext: writeBext(bextOf(values, id, loudness, at)),
    cart: writeCart(cartOf(values, system, Math.round((durationSeconds ?? 0) * system.hertz))),
  };
  applySplices(
    to,
    withSource(to, (bytes) => setWaveChunks(bytes, chunks)),
  );
  return levelled;
}
