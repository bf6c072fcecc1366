/** A planned transition as sound: both parts at their speeds, level-matched, the one fading into the other. */
import { speedsOf, type Mix } from '@early-set/core/arrange/mix';
import { excerpt, lasting, MIX_RATE, stretched, type Speed } from './excerpts.ts';

export interface MixTrack {
  id: number;
  /** Decibels by which it is level-matched. */
  gainDb: number;
}

export interface MixSound {
  mix: Mix;
  first: MixTrack;
  second: MixTrack;
  /** Their pitch stays when tempi are matched. */
  keyLock: boolean;
  /** Seconds in which the second goes back to its own tempo once it is alone; null: it does not. */
  ramp: number | null;
}

/** Steps of the fade's curve. */
const CURVE = 64;
/** A cut without a click. */
const LEAST_FADE_SECONDS = 0.01;

/** Renders it as a whole, so that what is heard is exact to the sample. @throws Error when a file cannot be read */
export async function renderMix({ mix, first, second, keyLock, ramp }: MixSound): Promise<AudioBuffer> {
  const sides = [
    { track: first, part: mix.first, speeds: [{ at: 0, rate: mix.first.rate }], curve: fading(false) },
    { track: second, part: mix.second, speeds: speedsOf(mix, ramp), curve: fading(true) },
  ];
  const ends = Math.max(...sides.map(({ part, speeds }) => part.at + lasting(part.to - part.from, speeds)));
  const context = new OfflineAudioContext(2, Math.max(1, Math.ceil(ends * MIX_RATE)), MIX_RATE);
  for (const { track, part, speeds, curve } of sides) {
    const buffer = await excerpt(track.id, part.from, part.to);
    const own = speeds.every(({ rate }) => Math.abs(rate - 1) < 1e-6);
    const name = `${track.id} ${part.from.toFixed(4)} ${part.to.toFixed(4)}`;
    const source = context.createBufferSource();
    source.buffer = keyLock && !own ? await stretched(name, buffer, speeds) : buffer;
    if (!keyLock) play(source.playbackRate, speeds, part.at);
    const gain = context.createGain();
    const loud = 10 ** (track.gainDb / 20);
    const { from, to } = mix.fade;
    gain.gain.setValueAtTime(loud * curve[0]!, 0);
    gain.gain.setValueCurveAtTime(
      curve.map((share) => share * loud),
      from,
      Math.max(LEAST_FADE_SECONDS, to - from),
    );
    source.connect(gain).connect(context.destination);
    source.start(part.at);
  }
  return context.startRendering();
}

function play(rate: AudioParam, speeds: readonly Speed[], from: number): void {
  for (const speed of speeds) rate.setValueAtTime(speed.rate, from + speed.at);
}

/** Of equal power all the way. */
const fading = (up: boolean): Float32Array =>
  Float32Array.from({ length: CURVE }, (_, i) => {
    const angle = ((i / (CURVE - 1)) * Math.PI) / 2;
    return up ? Math.sin(angle) : Math.cos(angle);
  });
