/** The networks of the engine, as `npm run bench:fit` has written them. */
import { unpacked, type Fitted, type Network, type PackedNetwork } from './network.ts';
import { WEIGHTS } from './weights.ts';

const net = ({ inputs, hidden, weights, biases, out, straight, bias }: PackedNetwork): Network => ({
  inputs,
  hidden,
  weights: unpacked(weights),
  biases: unpacked(biases),
  out: unpacked(out),
  straight: unpacked(straight),
  bias,
});

export const FITTED: Fitted = {
  readings: {
    beat: net(WEIGHTS.beat),
    bars: { 2: net(WEIGHTS.bars[2]), 3: net(WEIGHTS.bars[3]), 4: net(WEIGHTS.bars[4]) },
  },
  keys: { major: net(WEIGHTS.keys.major), minor: net(WEIGHTS.keys.minor), calm: WEIGHTS.keys.calm },
  tempoSure: WEIGHTS.tempoSure,
};
