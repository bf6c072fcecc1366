/** Makes the station's links and jingles below the demo's music folder; what is there already is kept. */
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { encode } from './encode.ts';
import { STATION, stationTags } from './scenario/station.ts';
import { seeded, seedOf } from './synth/random.ts';
import { chime, speak } from './synth/voice.ts';

/** @returns paths of the files that were made */
export async function makeStation(root: string, staging: string): Promise<string[]> {
  const missing = STATION.filter((piece) => !existsSync(join(root, piece.path)));
  for (const piece of missing) {
    const random = seeded(seedOf(piece.title));
    const sound = (piece.kind === 'spoken' ? speak : chime)(piece.seconds, random);
    const format = piece.path.endsWith('.wav') ? 'wav' : 'mp3-128';
    await encode(sound, format, join(root, piece.path), join(staging, 'station'), stationTags(piece));
  }
  return missing.map((piece) => piece.path);
}
