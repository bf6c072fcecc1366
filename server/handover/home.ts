/** Where a program keeps what, below the folder that was chosen for it. */
export interface Home {
  /** The folder with its data, which is written as a whole. */
  data: string;
  /** A file of it by which it is recognised. */
  mark: string;
  /** The file that is there while it is open; null: nothing has it open. */
  lock: string | null;
  /** It is written once, as a whole: its mark says by itself whether it is another one. */
  once?: true;
  /** The folder of its pictures, where it keeps its own, named in its data; what is there is never overwritten. */
  covers: string | null;
  /** Is it one of the files that are read and written? Others are kept as they are. */
  isText: (name: string) => boolean;
}
