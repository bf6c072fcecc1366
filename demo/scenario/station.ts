/** What the island's station plays between tracks: links that were recorded, and jingles. */
export interface StationPiece {
  title: string;
  kind: 'spoken' | 'jingle';
  seconds: number;
  /** Path below the demo's music folder. */
  path: string;
}

const FOLDER = 'Radio/Links and jingles';

export const STATION: readonly StationPiece[] = [
  { title: 'Good morning, and the tide', kind: 'spoken', seconds: 38, path: `${FOLDER}/good morning and the tide.mp3` },
  { title: 'Ferry times', kind: 'spoken', seconds: 54, path: `${FOLDER}/ferry times.mp3` },
  { title: 'Skerry jingle', kind: 'jingle', seconds: 6, path: `${FOLDER}/skerry jingle.wav` },
  { title: 'Top of the hour', kind: 'jingle', seconds: 9, path: `${FOLDER}/top of the hour.wav` },
];

/** Their tags, under ffmpeg's names. */
export const stationTags = ({ title }: StationPiece): Record<string, string> => ({
  title,
  artist: 'Skerry Foreshore',
  album: 'Station Sound',
  genre: 'Station',
  date: '2024',
});
