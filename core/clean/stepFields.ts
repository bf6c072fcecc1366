/** Fields that steps are about. */

/** Names that people give. */
export const NAMES = [
  'title',
  'artist',
  'version',
  'album',
  'albumArtist',
  'remixer',
  'label',
  'genre',
  'comment',
] as const;

/** Fields that steps change, rules among them. */
export const CLEAN_FIELDS: readonly string[] = [
  ...NAMES,
  'year',
  'trackNumber',
  'trackTotal',
  'discNumber',
  'discTotal',
  'composer',
  'catalogueNumber',
  'isrc',
  'moods',
  'freeTags',
  'notes',
  'rating',
  'energy',
  'fileName',
];
/** Fields that steps read. */
export const READ_FIELDS: readonly string[] = [
  ...CLEAN_FIELDS,
  'bpm',
  'key',
  'lufs',
  'truePeakDbtp',
  'trackGainDb',
  'trackPeak',
  'albumGainDb',
  'albumPeak',
  'durationSeconds',
  'format',
  'bitrate',
];
