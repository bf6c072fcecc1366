/** Bringing a recording to a loudness under a ceiling for its true peaks, by plain gain wherever that is enough. */

export interface LevelWish {
  /** Integrated loudness that it is to have, in LUFS. */
  lufs: number;
  /** True peaks stand at most so high, in dBTP. */
  ceilingDbtp: number;
}

/** What a recording measures. */
export interface Measured {
  /** null: nothing passes the gate. */
  integratedLufs: number | null;
  /** −Infinity for silence. */
  truePeakDbtp: number;
}

/** How it is made: gain, and where the limiter stands; null where none is needed. */
export interface LevelSetting {
  gainDb: number;
  ceilingDbtp: number | null;
}

export interface Levelled {
  setting: LevelSetting;
  measured: Measured;
  /** How often it was made and measured. */
  passes: number;
  /** It is as loud as it was wished, within `TOLERANCE_LU`, and nothing stands above the ceiling. */
  reached: boolean;
}

/** Loudness is right within this, in LU. */
export const TOLERANCE_LU = 0.1;
/** It is sought a little closer. */
const AIM_LU = 0.05;
const MOST_PASSES = 8;
/** Beyond this gain nothing becomes louder by being limited harder; it would only be worn. */
const MOST_DRIVE_DB = 24;
/** Meters round. */
const SAFE_DB = 0.005;

/**
 * Finds the setting, by making and measuring it.
 * @param make makes it with a setting, and measures what came out
 */
export async function level(
  source: Measured,
  wish: LevelWish,
  make: (setting: LevelSetting) => Promise<Measured>,
): Promise<Levelled> {
  if (source.integratedLufs === null) {
    const setting: LevelSetting = { gainDb: 0, ceilingDbtp: null };
    return { setting, measured: await make(setting), passes: 1, reached: false };
  }
  const plain = wish.lufs - source.integratedLufs;
  const fits = source.truePeakDbtp + plain <= wish.ceilingDbtp;
  let setting: LevelSetting = { gainDb: plain, ceilingDbtp: fits ? null : wish.ceilingDbtp };
  let best: Levelled | null = null,
    last: Tried | null = null;
  for (let passes = 1; passes <= MOST_PASSES; passes++) {
    const measured = await make(setting);
    const short = measured.integratedLufs === null ? 0 : wish.lufs - measured.integratedLufs,
      over = measured.truePeakDbtp - wish.ceilingDbtp;
    const made: Levelled = { setting, measured, passes, reached: Math.abs(short) <= TOLERANCE_LU && over <= 0 };
    if (best === null || worth(made, wish) > worth(best, wish)) best = made;
    if (made.reached && Math.abs(short) <= AIM_LU) break;
    const loudness = measured.integratedLufs ?? wish.lufs;
    const next = setting.gainDb + short / steepness(last, { gainDb: setting.gainDb, loudness });
    last = { gainDb: setting.gainDb, loudness };
    if (next - plain > MOST_DRIVE_DB) break;
    // Once it is limited, it stays so; what stands above the ceiling after all brings the limiter down by as much.
    const limited = setting.ceilingDbtp ?? (over > 0 ? wish.ceilingDbtp : null);
    setting = { gainDb: next, ceilingDbtp: limited === null ? null : limited - (over > 0 ? over + SAFE_DB : 0) };
  }
  return best!;
}

interface Tried {
  gainDb: number;
  loudness: number;
}
/** The harder it is limited, the less a decibel of gain makes it louder: as much as it was lately (secant method). */
function steepness(before: Tried | null, now: Tried): number {
  if (before === null || Math.abs(now.gainDb - before.gainDb) < SEEN_DB) return 1;
  return Math.min(1, Math.max(LEAST_STEEP, (now.loudness - before.loudness) / (now.gainDb - before.gainDb)));
}
/** Of smaller steps nothing can be learnt. */
const SEEN_DB = 0.01;
const LEAST_STEEP = 0.2;

/** Under the ceiling first, then as loud as it was wished. */
const worth = ({ measured }: Levelled, { lufs, ceilingDbtp }: LevelWish): number =>
  (measured.truePeakDbtp <= ceilingDbtp ? 1000 : 0) - Math.abs((measured.integratedLufs ?? lufs) - lufs);

export const decibelsOf = (amplitude: number): number => 20 * Math.log10(amplitude);
export const amplitudeOf = (decibels: number): number => 10 ** (decibels / 20);
