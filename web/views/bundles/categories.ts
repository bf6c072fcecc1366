/** What can be in a bundle, in words. */
import type { Category } from '@early-set/core/bundle/manifest';

export const CATEGORY_WORDS: Record<Category, { label: string; note: string }> = {
  tracks: { label: 'Tracks', note: 'fields with origins and locks, cues, grids, where the files are' },
  analyses: {
    label: 'Measurements',
    note: 'analysis, waveforms, fingerprints, duplicates; else all is measured again',
  },
  covers: { label: 'Covers', note: 'pictures as they are in the files' },
  lists: { label: 'Crates, playlists and dates', note: 'hours and format clocks too' },
  destinations: { label: 'Destinations and sticks', note: 'with their settings and their last sync' },
  settings: { label: 'Settings', note: 'presets, naming rules, what has to be filled in' },
  history: { label: 'History', note: 'changes that can be undone, removed tracks, what was played' },
};
