/** What is used of the package, which has no types of its own (MIT, Signalsmith Audio). */
declare module 'signalsmith-stretch' {
  interface StretchNode extends AudioWorkletNode {
    addBuffers(channels: Float32Array[]): Promise<number>;
    schedule(change: { output: number; input: number; rate: number; active: boolean }): Promise<void>;
  }
  interface Stretcher {
    (context: BaseAudioContext, options: AudioWorkletNodeOptions): Promise<StretchNode>;
    /** Where the worklet is loaded from. */
    moduleUrl?: string;
  }
  const stretcher: Stretcher;
  export default stretcher;
}
declare module 'signalsmith-stretch?url' {
  const url: string;
  export default url;
}
