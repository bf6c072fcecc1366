/** What decides which file stays, of files as they are shown. */
import type { CopyFacts } from './keep.ts';

/** A file as it is shown: with its codec and container, names of the lists that hold it, its root and folder. */
export interface ShownFile extends Omit<CopyFacts, 'lossless' | 'lists'> {
  codec: string;
  format: string;
  lists: readonly string[];
  root: string;
}

const LOSSLESS: ReadonlySet<string> = new Set(['FLAC', 'WAV', 'AIFF', 'ALAC']);
export const isLossless = ({ codec, format }: Pick<ShownFile, 'codec' | 'format'>): boolean =>
  LOSSLESS.has(codec.toUpperCase()) || LOSSLESS.has(format.toUpperCase());

export const factsOf = (file: ShownFile): CopyFacts => ({
  ...file,
  lossless: isLossless(file),
  lists: file.lists.length,
  folder: file.folder ? `${file.root}/${file.folder}` : file.root,
});
