/**
 * The test signals of EBU Tech 3341 (2016, table 1) and Tech 3342 (2016, table 1), synthesised. Cases 7 and 8 of
 * the former and 5 and 6 of the latter are recordings of programmes and cannot be.
 */
import { createFeatureExtractor, type Features } from '@early-set/core/analysis/features';

const RATE = 48000;

/** Seconds of a 1-kHz tone at a level in dBFS, one level per channel. */
interface Tone {
  seconds: number;
  levels: number[];
}

export interface EbuCase {
  standard: '3341' | '3342';
  number: string;
  what: string;
  expected: number;
  below: number;
  above: number;
  measure: () => number;
}

function measured(channels: number, samples: Float32Array): Features {
  const extractor = createFeatureExtractor({ sampleRate: RATE, channels });
  extractor.push(samples);
  return extractor.finish();
}

function tones(list: Tone[]): Features {
  const channels = list[0]!.levels.length;
  const frames = list.map((t) => Math.round(t.seconds * RATE));
  const samples = new Float32Array(frames.reduce((a, b) => a + b, 0) * channels);
  let frame = 0;
  list.forEach((tone, i) => {
    const gains = tone.levels.map((level) => 10 ** (level / 20));
    for (let k = 0; k < frames[i]!; k++, frame++) {
      const s = Math.sin((2 * Math.PI * 1000 * frame) / RATE);
      for (let c = 0; c < channels; c++) samples[frame * channels + c] = gains[c]! * s;
    }
  });
  return measured(channels, samples);
}

const stereo = (...list: [seconds: number, level: number][]): Tone[] =>
  list.map(([seconds, level]) => ({ seconds, levels: [level, level] }));
const repeated = (times: number, ...list: [number, number][]): Tone[] =>
  stereo(...Array.from({ length: times }, () => list).flat());
const SILENCE = -200;
const decibels = (amplitude: number): number => 20 * Math.log10(amplitude);
/** Of several values the one farthest from what is expected. */
const farthest = (values: number[], from: number): number =>
  values.reduce((worst, v) => (Math.abs(v - from) > Math.abs(worst - from) ? v : worst), from);

/** A tone at a fraction of the rate, faded in and out. */
function peakTone(divisor: number, degrees: number, amplitude: number): number {
  const n = RATE;
  const samples = new Float32Array(n * 2);
  for (let i = 0; i < n; i++) {
    const fade = Math.min(1, i / 2400, (n - i) / 2400);
    samples[2 * i] = samples[2 * i + 1] =
      fade * amplitude * Math.sin((2 * Math.PI * i) / divisor + (degrees * Math.PI) / 180);
  }
  return decibels(measured(2, samples).truePeak);
}

/**
 * A tone at rate/6 with one period of rate/4 at full scale in it, made at four times the rate and taken down from
 * `offset` on.
 */
function peakBurst(offset: number): number {
  const four = 4 * RATE;
  const wave = new Float64Array(four);
  let phase = 0;
  const middle = four / 2;
  for (let i = 0; i < four; i++) {
    const loud = i >= middle && i < middle + 16;
    wave[i] = (loud ? 1 : 0.5) * Math.sin(phase) * Math.min(1, i / 9600, (four - i) / 9600);
    phase += (2 * Math.PI) / (loud ? 16 : 24);
  }
  const samples = new Float32Array(RATE * 2);
  for (let i = 0; i < RATE - 1; i++) samples[2 * i] = samples[2 * i + 1] = wave[4 * i + offset]!;
  return decibels(measured(2, samples).truePeak);
}

const loudnessCase = (number: string, what: string, expected: number, measure: () => number): EbuCase => ({
  standard: '3341',
  number,
  what,
  expected,
  below: 0.1,
  above: 0.1,
  measure,
});
const peakCase = (number: string, what: string, expected: number, measure: () => number): EbuCase => ({
  standard: '3341',
  number,
  what,
  expected,
  below: 0.4,
  above: 0.2,
  measure,
});
const rangeCase = (number: string, what: string, expected: number, ...list: [number, number][]): EbuCase => ({
  standard: '3342',
  number,
  what,
  expected,
  below: 1,
  above: 1,
  measure: () => tones(stereo(...list)).loudness.rangeLu!,
});
const integrated = (list: Tone[]) => (): number => tones(list).loudness.integratedLufs!;

export const EBU_CASES: EbuCase[] = [
  loudnessCase('1', 'integrated, tone at −23', -23, integrated(stereo([20, -23]))),
  loudnessCase('1 S', 'maximum short-term of the same', -23, () => tones(stereo([20, -23])).loudness.maxShortTermLufs!),
  loudnessCase('1 M', 'maximum momentary of the same', -23, () => tones(stereo([20, -23])).loudness.maxMomentaryLufs!),
  loudnessCase('2', 'integrated, tone at −33', -33, integrated(stereo([20, -33]))),
  loudnessCase('3', 'relative gate', -23, integrated(stereo([10, -36], [60, -23], [10, -36]))),
  loudnessCase('4', 'both gates', -23, integrated(stereo([10, -72], [10, -36], [60, -23], [10, -36], [10, -72]))),
  loudnessCase('5', 'gate at −10 LU', -23, integrated(stereo([20, -26], [20.1, -20], [20, -26]))),
  // The standard's order is left, right, centre, surrounds; a file with five channels has them so.
  loudnessCase('6', 'five channels', -23, integrated([{ seconds: 20, levels: [-28, -28, -24, -30, -30] }])),
  loudnessCase('9', 'short-term stays', -23, () =>
    farthest(tones(repeated(5, [1.34, -20], [1.66, -30])).loudness.shortTermCurve, -23),
  ),
  loudnessCase('10', 'maximum short-term, 20 offsets', -23, () =>
    farthest(
      Array.from(
        { length: 20 },
        (_, i) =>
          tones(stereo([Math.max(0.001, i * 0.15), SILENCE], [3, -23], [1, SILENCE])).loudness.maxShortTermLufs!,
      ),
      -23,
    ),
  ),
  loudnessCase('11', 'maximum short-term, 20 levels (difference)', 0, () =>
    farthest(
      Array.from(
        { length: 20 },
        (_, i) =>
          tones(stereo([i * 0.15 + 0.001, SILENCE], [3, -38 + i], [3 - i * 0.15, SILENCE])).loudness.maxShortTermLufs! -
          (-38 + i),
      ),
      0,
    ),
  ),
  loudnessCase(
    '12',
    'maximum momentary of fast steps',
    -23,
    () => tones(repeated(25, [0.18, -20], [0.22, -30])).loudness.maxMomentaryLufs!,
  ),
  loudnessCase('13', 'maximum momentary, 20 offsets', -23, () =>
    farthest(
      Array.from(
        { length: 20 },
        (_, i) =>
          tones(stereo([Math.max(0.001, i * 0.02), SILENCE], [0.4, -23], [1, SILENCE])).loudness.maxMomentaryLufs!,
      ),
      -23,
    ),
  ),
  loudnessCase('14', 'maximum momentary, 20 levels (difference)', 0, () =>
    farthest(
      Array.from(
        { length: 20 },
        (_, i) =>
          tones(stereo([i * 0.02 + 0.001, SILENCE], [0.4, -38 + i], [0.4 - i * 0.02 + 0.001, SILENCE])).loudness
            .maxMomentaryLufs! -
          (-38 + i),
      ),
      0,
    ),
  ),
  peakCase('15', 'true peak, rate/4 at 0°', -6, () => peakTone(4, 0, 0.5)),
  peakCase('16', 'true peak, rate/4 at 45°', -6, () => peakTone(4, 45, 0.5)),
  peakCase('17', 'true peak, rate/6 at 60°', -6, () => peakTone(6, 60, 0.5)),
  peakCase('18', 'true peak, rate/8 at 67.5°', -6, () => peakTone(8, 67.5, 0.5)),
  peakCase('19', 'true peak over full scale', 3, () => peakTone(4, 45, 1.41)),
  ...[0, 1, 2, 3].map((offset) =>
    peakCase(String(20 + offset), `true peak of a burst, offset ${offset}/4`, 0, () => peakBurst(offset)),
  ),
  rangeCase('1', 'range, −20 and −30', 10, [20, -20], [20, -30]),
  rangeCase('2', 'range, −20 and −15', 5, [20, -20], [20, -15]),
  rangeCase('3', 'range, −40 and −20', 20, [20, -40], [20, -20]),
  rangeCase('4', 'range, five steps', 15, [20, -50], [20, -35], [20, -20], [20, -35], [20, -50]),
];
