/** Thread in which two recordings are compared, so that it holds nobody up. */
import { compareSounds, type Comparison, type Sound } from '@early-set/core/duplicates/compare';

export default function work([first, second]: [Sound, Sound]): Comparison {
  return compareSounds(first, second);
}
