/**
 * 10,000 made-up tracks are named by rules, planned and put into an order of moves: how long it takes, and whether the
 * moves, played on a model of a drive, end where the plan says without ever meeting anything.
 */
import { inOrder } from '@early-set/core/changes/files';
import { relocateFile } from '@early-set/core/changes/kinds/relocateFile';
import { namer, READY_RULES, type NamedFile } from '@early-set/core/naming/naming';
import { placeKey, planNames, type NamePlan, type WantedFile } from '@early-set/core/files/plan';
import { DEFAULT_NAME_OPTIONS } from '@early-set/core/naming/safeNames';
import { pick, seeded } from '../demo/synth/random.ts';
import { percentile, table } from './table.ts';

const TRACKS = 10_000,
  ROUNDS = 7;
const random = seeded(41);
const number = (below: number): number => Math.floor(random() * below);
const WORDS = ['Slack', 'Water', 'Tin', 'Ladle', 'Eel', 'Grass', 'Coal', 'Hatch', 'Weir', 'Øre', 'Ebb: low', 'AM/PM'];
const name = (): string => `${pick(random, WORDS)} ${pick(random, WORDS)}`;
const artists = Array.from({ length: 700 }, () => `${name()} ${number(40)}`),
  albums = Array.from({ length: 1200 }, name);

/** Few titles for many tracks, so that many want one name; some lie where the rule wants them. */
const tracks: NamedFile[] = Array.from({ length: TRACKS }, (_, i) => {
  const [artist, album] = [pick(random, artists), pick(random, albums)];
  return {
    path: `Inbox ${number(80)}/${i} ${name().replaceAll('/', '-')}.mp3`,
    values: {
      title: name(),
      artist: [artist],
      album: number(5) ? album : '',
      albumArtist: number(9) ? '' : 'Various Artists',
      trackNumber: number(4) ? number(14) + 1 : null,
      version: number(6) ? '' : pick(random, ['Dub', 'Extended Mix', 'Live']),
      genre: [pick(random, ['House', 'Dub', 'Ambient'])],
      year: 1990 + number(40),
    },
    root: 'Music',
    lists: [],
  };
});
const compilations = READY_RULES.find((r) => r.name === 'Compilations')!;

interface Made {
  wants: WantedFile[];
  plan: NamePlan;
  moves: ReturnType<typeof inOrder>;
}
function plan(ruleName: string): Made {
  const rule = READY_RULES.find((r) => r.name === ruleName)!;
  const rules = [compilations, rule].map((r, i) => ({ ...r, id: String(i) }));
  const nameOf = namer({ rules, options: DEFAULT_NAME_OPTIONS });
  const wants = tracks.flatMap((track): WantedFile[] => {
    const wanted = nameOf(track);
    return 'path' in wanted ? [{ ref: { rootId: 1, path: track.path }, wanted: { rootId: 1, path: wanted.path } }] : [];
  });
  const made = planNames(wants);
  const moves = inOrder(
    made.moves.map(({ at, to }) =>
      relocateFile('move', { trackId: at + 1, fileId: `${at}`.padStart(8, '0') }, wants[at]!.ref, to),
    ),
  );
  return { wants, plan: made, moves };
}

/** How many moves meet something on a drive that takes names for one that differ by case only. */
function meetings({ wants, moves }: Made): number {
  const drive = new Set(wants.map((w) => placeKey(w.ref)));
  let met = 0;
  for (const { before, after } of moves) {
    drive.delete(placeKey(before!));
    if (drive.has(placeKey(after))) met++;
    drive.add(placeKey(after));
  }
  return met;
}

const rows = ['Artist, album, number and title', 'All in one folder', 'Genre', 'Year'].map((rule) => {
  const times: number[] = [];
  let made = plan(rule);
  for (let i = 0; i < ROUNDS; i++) {
    const from = performance.now();
    made = plan(rule);
    times.push((performance.now() - from) / 1000);
  }
  const { moves, right, troubles } = made.plan;
  return [
    rule,
    made.wants.length,
    moves.length,
    moves.filter((m) => m.numbered).length,
    right,
    troubles.length,
    meetings(made),
    `${percentile(times, 0.5).toFixed(2)} s`,
    `${Math.max(...times).toFixed(2)} s`,
  ];
});
console.log(`${TRACKS} tracks named by a rule (compilations by one of their own), planned and ordered:\n`);
table(['rule', 'named', 'moves', 'numbered', 'right', 'troubles', 'meetings', 'median', 'at worst'], rows);
