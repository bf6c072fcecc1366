/** Thread in which files are looked for among others, so that it holds nobody up. */
import type { FileFacts, FoundAgain } from '@early-set/core/relink/facts';
import { findAgain } from '@early-set/core/relink/findAgain';

export interface RelinkWish {
  lost: readonly FileFacts[];
  files: readonly FileFacts[];
}

export default function work({ lost, files }: RelinkWish): FoundAgain[] {
  return findAgain(lost, files);
}
