/**
 * The one table of fields. A field listed here is read from tags, stored, shown as a column, edited,
 * searched and used in conditions; nothing else lists fields by hand.
 */

export type FieldType =
  'text' | 'texts' | 'number' | 'integer' | 'key' | 'seconds' | 'date' | 'flag' | 'choice' | 'marks';

/** Names under which tags hold a field, per family of containers. The first that is there counts. */
export interface TagNames {
  id3?: string[];
  vorbis?: string[];
  mp4?: string[];
  ape?: string[];
  riff?: string[];
  aiff?: string[];
}

export interface Field {
  id: string;
  label: string;
  type: FieldType;
  /** Where the value comes from in the end: people, measuring, or the file itself. */
  kind: 'named' | 'measured' | 'own' | 'file';
  /** Column of the tracks table. */
  column: string;
  /** Column by which it sorts: folded text for names, the value itself for the rest. */
  sortColumn: string;
  /** May be typed over. */
  editable: boolean;
  /** Default width in the sheet, in pixels. */
  width: number;
  /** Found by the search over all fields. */
  searched: boolean;
  /** An empty value is a gap. */
  gap: boolean;
  /** Limits for typed values. */
  limits: { min?: number; max?: number; maxLength?: number; decimals?: number };
  tags: TagNames;
  /** A file may hold several of its kind, of which only the one that is shown is ours: the first. */
  firstOnly?: true;
  /** Choices of a 'choice' field, with their labels. */
  choices?: Record<string, string>;
  /** Goes into files, and is taken from them, only where this setting of the desk says so. */
  bySetting?: 'starsInFiles';
  /** Long texts, of many lines: lists show how they begin, and they are edited as a whole. */
  long?: true;
  /** Of its figures, as the head of a column says it. */
  unit?: string;
  /** What one of a 'marks' field is called. */
  mark?: string;
}

type Extra = Partial<
  Pick<
    Field,
    | 'width'
    | 'searched'
    | 'gap'
    | 'limits'
    | 'tags'
    | 'choices'
    | 'editable'
    | 'mark'
    | 'unit'
    | 'firstOnly'
    | 'long'
    | 'bySetting'
  >
>;

const snake = (id: string): string => id.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`);

function field(kind: Field['kind'], id: string, label: string, type: FieldType, extra: Extra = {}): Field {
  const text = type === 'text' || type === 'texts';
  return {
    id,
    label,
    type,
    kind,
    column: snake(id),
    sortColumn: kind === 'named' && text ? `${snake(id)}_sort` : snake(id),
    editable: kind === 'named' || kind === 'own',
    width: text ? 140 : 72,
    searched: text && kind !== 'file',
    gap: false,
    limits: text ? { maxLength: 20_000 } : {},
    tags: {},
    ...extra,
  };
}

/** A time in the track that is measured and can be moved. */
function place(id: string, label: string): Field {
  return field('measured', id, label, 'number', {
    width: 102,
    unit: 's',
    editable: true,
    limits: { min: 0, max: 172_800, decimals: 2 },
  });
}

const freeFormAtom = (name: string): string => `----:com.apple.iTunes:${name}`;
/** A key that has the same name in every free-form container. */
const freeForm = (name: string): TagNames => ({
  id3: [`TXXX:${name}`],
  vorbis: [name],
  mp4: [freeFormAtom(name)],
  ape: [name],
});

/** Gains and peaks as tags say them (ReplayGain 2.0; R128 gains, RFC 7845), against −18 LUFS and full scale. */
function gain(id: string, label: string, scope: 'TRACK' | 'ALBUM', what: 'dB' | 'peak'): Field {
  const names = freeForm(`REPLAYGAIN_${scope}_${what === 'dB' ? 'GAIN' : 'PEAK'}`);
  if (what === 'peak')
    return field('named', id, label, 'number', { width: 164, limits: { min: 0, max: 100, decimals: 6 }, tags: names });
  return field('named', id, label, 'number', {
    width: 176,
    unit: 'dB',
    limits: { min: -99, max: 99, decimals: 2 },
    tags: { ...names, vorbis: [...names.vorbis!, `R128_${scope}_GAIN`] },
  });
}

export const FIELDS: readonly Field[] = [
  field('named', 'title', 'Title', 'text', {
    width: 220,
    gap: true,
    tags: { id3: ['TIT2'], vorbis: ['TITLE'], mp4: ['©nam'], ape: ['Title'], riff: ['INAM'], aiff: ['NAME'] },
  }),
  field('named', 'version', 'Version', 'text', {
    width: 120,
    tags: {
      id3: ['TIT3', 'TXXX:VERSION'],
      vorbis: ['VERSION', 'SUBTITLE'],
      mp4: [freeFormAtom('SUBTITLE'), freeFormAtom('VERSION')],
      ape: ['Subtitle', 'Version'],
    },
  }),
  field('named', 'artist', 'Artist', 'texts', {
    width: 106,
    gap: true,
    tags: { id3: ['TPE1'], vorbis: ['ARTIST'], mp4: ['©ART'], ape: ['Artist'], riff: ['IART'], aiff: ['AUTH'] },
  }),
  field('named', 'album', 'Album', 'text', {
    width: 150,
    tags: { id3: ['TALB'], vorbis: ['ALBUM'], mp4: ['©alb'], ape: ['Album'], riff: ['IPRD'] },
  }),
  field('named', 'albumArtist', 'Album artist', 'text', {
    tags: { id3: ['TPE2'], vorbis: ['ALBUMARTIST', 'ALBUM ARTIST'], mp4: ['aART'], ape: ['Album Artist'] },
  }),
  field('named', 'genre', 'Genre', 'texts', {
    width: 88,
    gap: true,
    tags: { id3: ['TCON'], vorbis: ['GENRE'], mp4: ['©gen', 'gnre'], ape: ['Genre'], riff: ['IGNR'] },
  }),
  field('named', 'year', 'Year', 'integer', {
    width: 56,
    gap: true,
    limits: { min: 1, max: 9999 },
    tags: {
      id3: ['TDRC', 'TYER', 'TDRL', 'TYE'],
      vorbis: ['DATE', 'YEAR'],
      mp4: ['©day'],
      ape: ['Year'],
      riff: ['ICRD'],
    },
  }),
  field('named', 'trackNumber', 'Track', 'integer', {
    width: 56,
    limits: { min: 0, max: 99_999 },
    tags: { id3: ['TRCK'], vorbis: ['TRACKNUMBER'], mp4: ['trkn'], ape: ['Track'], riff: ['ITRK', 'IPRT'] },
  }),
  field('named', 'discNumber', 'Disc', 'integer', {
    width: 56,
    limits: { min: 0, max: 9999 },
    tags: { id3: ['TPOS'], vorbis: ['DISCNUMBER'], mp4: ['disk'], ape: ['Disc'] },
  }),
  field('named', 'trackTotal', 'Track total', 'integer', {
    width: 92,
    limits: { min: 0, max: 99_999 },
    tags: { id3: ['TRCK'], vorbis: ['TRACKTOTAL', 'TOTALTRACKS', 'TRACKNUMBER'], mp4: ['trkn'], ape: ['Track'] },
  }),
  field('named', 'discTotal', 'Disc total', 'integer', {
    width: 86,
    limits: { min: 0, max: 9999 },
    tags: { id3: ['TPOS'], vorbis: ['DISCTOTAL', 'TOTALDISCS', 'DISCNUMBER'], mp4: ['disk'], ape: ['Disc'] },
  }),
  field('named', 'originalYear', 'Original year', 'integer', {
    width: 104,
    limits: { min: 1, max: 9999 },
    tags: { ...freeForm('ORIGINALYEAR'), id3: ['TDOR', 'TORY'], vorbis: ['ORIGINALDATE', 'ORIGINALYEAR'] },
  }),
  field('named', 'remixer', 'Remixer', 'texts', {
    tags: { id3: ['TPE4'], vorbis: ['REMIXER'], mp4: [freeFormAtom('REMIXER')], ape: ['MixArtist'] },
  }),
  field('named', 'composer', 'Composer', 'texts', {
    tags: { id3: ['TCOM'], vorbis: ['COMPOSER'], mp4: ['©wrt'], ape: ['Composer'] },
  }),
  field('named', 'lyricist', 'Lyricist', 'texts', {
    tags: { ...freeForm('LYRICIST'), id3: ['TEXT'], ape: ['Lyricist'] },
  }),
  field('named', 'conductor', 'Conductor', 'texts', {
    tags: { ...freeForm('CONDUCTOR'), id3: ['TPE3'], ape: ['Conductor'] },
  }),
  field('named', 'grouping', 'Grouping', 'text', {
    tags: { id3: ['TIT1'], vorbis: ['GROUPING'], mp4: ['©grp'], ape: ['Grouping'] },
  }),
  field('named', 'language', 'Language', 'text', {
    width: 84,
    limits: { maxLength: 200 },
    tags: { ...freeForm('LANGUAGE'), id3: ['TLAN'], ape: ['Language'] },
  }),
  field('named', 'copyright', 'Copyright', 'text', {
    tags: { id3: ['TCOP'], vorbis: ['COPYRIGHT'], mp4: ['cprt'], ape: ['Copyright'], riff: ['ICOP'], aiff: ['(c) '] },
  }),
  field('named', 'label', 'Label', 'text', {
    width: 110,
    tags: {
      id3: ['TPUB'],
      vorbis: ['LABEL', 'ORGANIZATION', 'PUBLISHER'],
      mp4: [freeFormAtom('LABEL')],
      ape: ['Label', 'Publisher'],
    },
  }),
  field('named', 'catalogueNumber', 'Catalogue no.', 'text', { width: 100, tags: freeForm('CATALOGNUMBER') }),
  field('named', 'isrc', 'ISRC', 'text', {
    width: 110,
    limits: { maxLength: 200 },
    tags: { id3: ['TSRC'], vorbis: ['ISRC'], mp4: [freeFormAtom('ISRC')], ape: ['ISRC'] },
  }),
  field('named', 'comment', 'Comment', 'text', {
    width: 180,
    firstOnly: true,
    tags: {
      id3: ['COMM', 'COM', 'TXXX:comment'],
      vorbis: ['COMMENT', 'DESCRIPTION'],
      mp4: ['©cmt'],
      ape: ['Comment'],
      riff: ['ICMT'],
      aiff: ['ANNO'],
    },
  }),
  field('named', 'lyrics', 'Lyrics', 'text', {
    width: 160,
    firstOnly: true,
    long: true,
    limits: { maxLength: 60_000 },
    tags: { id3: ['USLT'], vorbis: ['LYRICS', 'UNSYNCEDLYRICS'], mp4: ['©lyr'], ape: ['Lyrics'] },
  }),

  field('measured', 'bpm', 'BPM', 'number', {
    width: 72,
    editable: true,
    limits: { min: 20, max: 400, decimals: 2 },
    tags: { id3: ['TBPM'], vorbis: ['BPM', 'TEMPO'], mp4: ['tmpo'], ape: ['BPM'] },
  }),
  field('measured', 'key', 'Key', 'key', {
    width: 78,
    editable: true,
    tags: {
      id3: ['TKEY'],
      vorbis: ['KEY', 'INITIALKEY'],
      mp4: [freeFormAtom('initialkey'), freeFormAtom('INITIALKEY')],
      ape: ['KEY', 'INITIALKEY'],
    },
  }),
  field('measured', 'energy', 'Energy', 'integer', { width: 60, editable: true, limits: { min: 0, max: 100 } }),
  field('measured', 'lufs', 'LUFS', 'number', { width: 54, limits: { decimals: 1 } }),
  field('measured', 'truePeakDbtp', 'True peak', 'number', { width: 118, unit: 'dBTP', limits: { decimals: 1 } }),
  field('measured', 'loudnessRangeLu', 'Loudness range', 'number', { width: 126, unit: 'LU', limits: { decimals: 1 } }),
  gain('trackGainDb', 'ReplayGain track gain', 'TRACK', 'dB'),
  gain('trackPeak', 'ReplayGain track peak', 'TRACK', 'peak'),
  gain('albumGainDb', 'ReplayGain album gain', 'ALBUM', 'dB'),
  gain('albumPeak', 'ReplayGain album peak', 'ALBUM', 'peak'),
  field('measured', 'tempoConfidence', 'Tempo confidence', 'number', { width: 132, limits: { decimals: 2 } }),
  field('measured', 'keyConfidence', 'Key confidence', 'number', { width: 116, limits: { decimals: 2 } }),
  field('measured', 'gridStartSeconds', 'First bar at', 'number', {
    width: 96,
    unit: 's',
    editable: true,
    limits: { min: 0, max: 86_400, decimals: 3 },
  }),
  field('measured', 'beatsPerBar', 'Beats a bar', 'integer', {
    width: 82,
    editable: true,
    limits: { min: 2, max: 12 },
  }),
  field('measured', 'tempoSteady', 'Steady', 'flag', { width: 60 }),
  place('audibleStartSeconds', 'Audible start'),
  place('introEndSeconds', 'Intro end'),
  place('outroStartSeconds', 'Outro start'),
  place('segueSeconds', 'Segue point'),
  place('audibleEndSeconds', 'Audible end'),
  field('measured', 'ending', 'Ending', 'choice', { width: 66, choices: { fade: 'fade', hard: 'cold' } }),
  field('measured', 'bandwidthHz', 'Bandwidth', 'integer', { width: 108, unit: 'Hz' }),
  field('measured', 'soundsReencoded', 'Re-encoded', 'flag', { width: 84 }),
  field('measured', 'clippedRuns', 'Clipped', 'integer', { width: 66 }),

  field('own', 'rating', 'Stars', 'integer', {
    width: 78,
    limits: { min: 0, max: 5 },
    bySetting: 'starsInFiles',
    firstOnly: true,
    tags: { id3: ['POPM'], vorbis: ['RATING'] },
  }),
  field('own', 'moods', 'Moods', 'texts', {
    width: 120,
    tags: { ...freeForm('MOOD'), id3: ['TMOO', 'TXXX:MOOD'], ape: ['Mood'] },
  }),
  field('own', 'freeTags', 'Free tags', 'texts', { width: 120 }),
  field('own', 'notes', 'Notes', 'text', { width: 160 }),
  field('own', 'hearLater', 'Hear later', 'flag', { width: 80 }),
  field('own', 'kind', 'Kind', 'choice', {
    width: 90,
    choices: {
      track: 'track',
      jingle: 'jingle',
      bed: 'bed',
      spoken: 'spoken',
      loop: 'loop or sample',
      video: 'video',
    },
  }),
  field('own', 'vocals', 'Vocals', 'choice', { width: 66, choices: { yes: 'yes', no: 'no' } }),
  field('own', 'lastUsed', 'Last used', 'date', { width: 96, editable: true }),
  field('own', 'timesUsed', 'Times used', 'integer', { width: 90, limits: { min: 0, max: 100_000 } }),
  field('own', 'playFrom', 'On air from', 'date', { width: 96, editable: true }),
  field('own', 'playTo', 'On air until', 'date', { width: 96, editable: true }),
  field('own', 'dayparts', 'Dayparts', 'texts', { width: 120, searched: false }),
  field('own', 'explicit', 'Explicit words', 'flag', { width: 100 }),
  field('own', 'cues', 'Cues and loops', 'marks', { width: 110, mark: 'cue' }),
  field('own', 'gridAnchors', 'Anchored beats', 'marks', { width: 110, mark: 'anchor' }),
  field('own', 'sectionsByHand', 'Sections by hand', 'marks', { width: 120, mark: 'section' }),

  field('file', 'durationSeconds', 'Length', 'seconds', { width: 62 }),
  field('file', 'format', 'Format', 'choice', { width: 64, searched: true }),
  field('file', 'codec', 'Codec', 'choice', { width: 80 }),
  field('file', 'bitrate', 'Bit rate', 'integer', { width: 104, unit: 'kbit/s' }),
  field('file', 'sampleRate', 'Sample rate', 'integer', { width: 110, unit: 'Hz' }),
  field('file', 'channels', 'Channels', 'integer', { width: 70 }),
  field('file', 'fileName', 'File name', 'text', { width: 180, editable: true, limits: { maxLength: 120 } }),
  field('file', 'path', 'Path', 'text', { width: 220, searched: true }),
  field('file', 'folder', 'Folder', 'text', { width: 180 }),
  field('file', 'root', 'Library folder', 'text', { width: 120 }),
  field('file', 'playCount', 'Play count', 'integer', { width: 86, tags: { id3: ['PCNT'] } }),
  field('file', 'playoutId', 'Playout ID', 'integer', { width: 82 }),
  field('file', 'fileSize', 'File size', 'integer', { width: 90 }),
  field('file', 'addedAt', 'Added', 'date', { width: 90 }),
  field('file', 'fileState', 'File', 'choice', {
    width: 100,
    choices: { here: 'here', missing: 'missing file', away: 'drive not there', retired: 'in quarantine' },
  }),
  field('file', 'outOfPlace', 'Out of place', 'flag', { width: 92 }),
  field('file', 'duplicate', 'Duplicate', 'flag', { width: 80 }),
  field('file', 'unwritten', 'Tags not written yet', 'texts', { width: 150 }),
  field('file', 'analysisState', 'Measured', 'choice', {
    width: 80,
    choices: {
      none: 'not measured',
      waiting: 'waiting',
      running: 'being measured',
      done: 'measured',
      failed: 'could not be measured',
    },
  }),
];

const byId = new Map(FIELDS.map((f) => [f.id, f]));

/** A field by its id; undefined when there is none. */
export const findField = (id: string): Field | undefined => byId.get(id);

/** A field that must exist. @throws RangeError otherwise. */
export function fieldOf(id: string): Field {
  const found = byId.get(id);
  if (!found) throw new RangeError(`There is no field "${id}"`);
  return found;
}

/** The columns a new sheet shows, in order. */
export const DEFAULT_COLUMNS = [
  'title',
  'artist',
  'genre',
  'year',
  'bpm',
  'key',
  'energy',
  'lufs',
  'durationSeconds',
] as const;
