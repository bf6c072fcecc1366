/** Makes one planned track: composed, rendered, encoded. Runs in a worker thread. */
import { mkdir, rm, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { appendId3v1, encode } from './encode.ts';
import { fingerprintOf } from './fingerprint.ts';
import type { PlannedTrack } from './scenario/plan.ts';
import { drawCover } from './scenario/pictures.ts';
import { compose } from './synth/compose.ts';
import { seeded, seedOf } from './synth/random.ts';
import { render } from './synth/render.ts';
import { STYLES, type Style } from './synth/styles.ts';

/** What is true of a made file, for tests and benchmarks. */
export interface Truth {
  path: string;
  style: string;
  bpm: number | null;
  steady: boolean;
  beatsPerBar: number;
  beats: number[];
  firstDownbeatSeconds: number;
  key: string;
  lufs: number;
  lengthSeconds: number;
  /** 32-bit words in base64, as the catalogue compares them. */
  fingerprint?: string;
}

export interface ProduceTask {
  plan: PlannedTrack;
  root: string;
  /** A path that nobody else writes to, without ending. */
  staging: string;
}

/** Makes a planned track below `root` and returns the truth about it. */
export default async function produce({ plan, root, staging: temporary }: ProduceTask): Promise<Truth> {
  const style: Style = STYLES[plan.style];
  const piece = compose(
    { style, bpm: plan.bpm, tonic: plan.tonic, mode: plan.mode, seconds: plan.seconds, leadIn: plan.leadIn },
    seeded(plan.seed),
  );
  const sound = render(piece, style, plan.lufs, seeded(plan.seed ^ 0x5eed));
  const target = join(root, plan.path);
  await mkdir(dirname(temporary), { recursive: true });
  let picture: string | undefined;
  if (plan.picture) {
    picture = `${temporary}.jpg`;
    await writeFile(picture, await drawCover(seedOf(plan.album)));
  }
  await encode(sound, plan.format, target, temporary, plan.metadata, picture);
  if (picture) await rm(picture, { force: true });
  if (plan.latin1) await appendId3v1(target, plan.title, plan.artist, plan.album, plan.year);
  const beatless = Object.keys(style.drums).length === 0;
  return {
    path: plan.path,
    style: plan.style,
    bpm: beatless ? null : plan.bpm,
    steady: style.drift === 0,
    beatsPerBar: style.beatsPerBar,
    beats: piece.beats,
    firstDownbeatSeconds: piece.firstDownbeatSeconds,
    key: plan.key,
    lufs: plan.lufs,
    lengthSeconds: piece.lengthSeconds,
    fingerprint: await fingerprintOf(target),
  };
}
