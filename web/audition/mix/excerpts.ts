/** Parts of files as samples, kept for a while, and the same at another speed with their pitch kept. */
import SignalsmithStretch from 'signalsmith-stretch';
import workletUrl from 'signalsmith-stretch?url';

export const MIX_RATE = 44_100;
/** So many parts are kept. */
const KEPT = 8;
/** The stretcher is soft in its first moments, which are cut off. */
const WARM_UP_SECONDS = 0.25;

const kept = new Map<string, Promise<AudioBuffer>>();

/** What was made before under a name, or is made now; the longest unused goes. */
function once(name: string, make: () => Promise<AudioBuffer>): Promise<AudioBuffer> {
  const made = kept.get(name) ?? make();
  kept.delete(name);
  kept.set(name, made);
  made.catch(() => kept.delete(name));
  for (const old of [...kept.keys()].slice(0, Math.max(0, kept.size - KEPT))) kept.delete(old);
  return made;
}

/** A part of a track's file, in seconds. @throws Error with a sentence when it cannot be had */
export const excerpt = (trackId: number, from: number, to: number): Promise<AudioBuffer> =>
  once(`${trackId} ${from.toFixed(4)} ${to.toFixed(4)}`, async () => {
    const seconds = Math.max(0.05, to - from);
    const answer = await fetch(`/api/tracks/${trackId}/excerpt?from=${from.toFixed(6)}&seconds=${seconds.toFixed(6)}`);
    if (!answer.ok) throw new Error('A file of this transition cannot be read; it may be missing or broken');
    return new OfflineAudioContext(2, 1, MIX_RATE).decodeAudioData(await answer.arrayBuffer());
  });

/** From when on something is played at which speed; seconds of the result. */
export interface Speed {
  at: number;
  rate: number;
}

/** Seconds that so many seconds of a file last at these speeds. */
export function lasting(seconds: number, speeds: readonly Speed[]): number {
  let left = seconds;
  for (const [i, { at, rate }] of speeds.entries()) {
    const next = speeds[i + 1];
    if (!next || left <= (next.at - at) * rate) return at + left / rate;
    left -= (next.at - at) * rate;
  }
  return 0;
}

/** A buffer at other speeds, its pitch kept. @param name by which it is kept */
export const stretched = (name: string, buffer: AudioBuffer, speeds: readonly Speed[]): Promise<AudioBuffer> =>
  once(`${name} ${JSON.stringify(speeds)}`, async () => {
    const seconds = lasting(buffer.duration, speeds);
    const context = new OfflineAudioContext(2, Math.ceil((seconds + WARM_UP_SECONDS) * MIX_RATE), MIX_RATE);
    SignalsmithStretch.moduleUrl = workletUrl;
    const node = await SignalsmithStretch(context, { numberOfInputs: 0, numberOfOutputs: 1, outputChannelCount: [2] });
    await node.addBuffers([buffer.getChannelData(0), buffer.getChannelData(buffer.numberOfChannels > 1 ? 1 : 0)]);
    let input = 0;
    for (const [i, { at, rate }] of speeds.entries()) {
      await node.schedule({ output: WARM_UP_SECONDS + at, input, rate, active: true });
      input += ((speeds[i + 1]?.at ?? at) - at) * rate;
    }
    node.connect(context.destination);
    const made = await context.startRendering();
    const cut = new AudioBuffer({ numberOfChannels: 2, length: Math.ceil(seconds * MIX_RATE), sampleRate: MIX_RATE });
    for (const channel of [0, 1])
      cut.copyToChannel(made.getChannelData(channel).subarray(Math.round(WARM_UP_SECONDS * MIX_RATE)), channel);
    return cut;
  });
