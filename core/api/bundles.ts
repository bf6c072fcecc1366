/** Bundles as they go over the wire. */
import type { BundleManifest, Category, FolderPlace } from '../bundle/manifest.ts';

/** A bundle that lies in a folder. */
export interface BundleLine {
  path: string;
  name: string;
  zip: boolean;
  madeAt: string;
  computer: string;
  tracks: number;
  /** Why it cannot be read; null when it can. */
  trouble: string | null;
}

export interface BundleLook {
  path: string;
  manifest: BundleManifest;
  bytes: number | null;
  /** Its folders that are here at the path they had there. */
  here: number[];
  /** Nothing is in the library: it can be read as it is. */
  empty: boolean;
}

export interface BundleMake {
  folder: string;
  name: string;
  zip: boolean;
  /** The files of its tracks go along; only into a folder. */
  music: boolean;
  categories: Category[];
  /** Null: the whole library. */
  lists: string[] | null;
  /** Arrangements of the page that are saved in this browser. */
  layouts: object[];
}

export interface BundleReadWish {
  path: string;
  categories: Category[];
  folders: FolderPlace[];
  /** Music that goes along is copied into the folders that are here. */
  music: boolean;
}

/** A bundle that is compared with the library. */
export type BundleCompareWish = Pick<BundleReadWish, 'path' | 'folders'>;

/** What is still to be done after a bundle was read; each says where. */
export interface BundleStep {
  step: 'folders' | 'files' | 'measured' | 'destinations' | 'backup';
  done: number;
  total: number;
}
export interface BundleSteps {
  /** Null: none was read here. */
  read: { at: string; computer: string; name: string } | null;
  steps: BundleStep[];
}
