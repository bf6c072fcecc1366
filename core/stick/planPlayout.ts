/** Everything that is to lie in the folder of a playout system: items, their catalogue, and hours as logs. */
import { format } from 'date-fns';
import { printOf } from '../exchange/print.ts';
import type { TrackValues } from '../fields/values.ts';
import { sameName, type StickFile, type StickList } from './layout.ts';
import { ofText, PlanError, type Plan, type PlannedFile, type PlannedTrack } from './plan.ts';
import { bytesFor, type Recipe } from './recipe.ts';
import { bextOf, cartOf, catalogueOf, hourLog, ITEM_FIELDS, itemId, needsOfItem } from '../playout/item.ts';
import type { PlayoutSystem } from '../playout/system.ts';

/** An hour that is to be played; moments in seconds since 1970. */
export interface PlayoutHour {
  /** Of the list. */
  id: string;
  at: number;
  /** What is played from a file, in the order of the hour. */
  items: { at: number; trackId: number }[];
}

/**
 * Plans it. Items are called by their IDs: whatever becomes of a title, the system finds the same item.
 * @param taken files that are there and not ours, below its folder
 * @throws PlanError where its catalogue is somebody else's
 */
export function planPlayout(
  tracks: ReadonlyMap<number, PlannedTrack>,
  lists: readonly StickList[],
  hours: readonly PlayoutHour[],
  system: PlayoutSystem,
  taken: readonly string[] = [],
): Plan {
  const foreign = new Set(taken.map(sameName));
  if (foreign.has(sameName(system.catalogue)))
    throw new PlanError(
      `Somebody else keeps the catalogue there (${system.catalogue}): items from here would not be in it`,
    );
  const plan: Plan = { files: [], lists: [], refused: [] };
  const seen = new Map<number, StickFile | null>();
  const add = (trackId: number): StickFile | null => {
    const track = tracks.get(trackId);
    const refused = refusedFor(trackId, track, system, foreign);
    if (!track || refused.length > 0) {
      plan.refused.push(...refused);
      return null;
    }
    const file: StickFile = { path: pathOf(track, system), trackId, recipe: recipeOf(system), cut: false };
    plan.files.push(itemOf(file, track, system));
    return file;
  };
  const hourOf = new Map(hours.map((hour) => [hour.id, hour]));
  const logs: PlannedFile[] = [];
  const names = new Set(foreign);
  for (const { id, name, place, trackIds } of lists) {
    const files: StickFile[] = [];
    for (const trackId of trackIds) {
      if (!seen.has(trackId)) seen.set(trackId, add(trackId));
      const file = seen.get(trackId);
      if (file) files.push(file);
    }
    const hour = hourOf.get(id);
    const log = hour && logOf(hour, seen, tracks, system, names);
    if (log) logs.push(log);
    plan.lists.push({
      listId: id,
      name,
      place,
      file: log?.path ?? (plan.files.length ? system.catalogue : null),
      files,
    });
  }
  if (plan.files.length > 0) {
    const items = plan.files.flatMap(({ path, madeOf }) =>
      madeOf.is === 'item' ? [{ path: path.slice(system.items.length + 1), values: madeOf.values }] : [],
    );
    // Items first: a catalogue never names what is not there.
    plan.files.push(ofText(system.catalogue, catalogueOf(items, system)), ...logs);
  }
  return plan;
}

const recipeOf = ({ lufs }: PlayoutSystem): Recipe => ({ format: 'wav', kbps: null, lufs });
const idOf = (track: PlannedTrack, system: PlayoutSystem): string => itemId(track.values.playoutId, system)!;
const pathOf = (track: PlannedTrack, system: PlayoutSystem): string => `${system.items}/${idOf(track, system)}.wav`;

function refusedFor(
  trackId: number,
  track: PlannedTrack | undefined,
  system: PlayoutSystem,
  foreign: ReadonlySet<string>,
): Plan['refused'] {
  if (!track) return [{ trackId, reason: 'Its file is not there', mend: 'Disk' }];
  if (track.broken) return [{ trackId, reason: 'Its sound cannot be read', mend: 'Measure' }];
  const needs = needsOfItem(track.values, system);
  if (needs.length === 0 && foreign.has(sameName(pathOf(track, system))))
    return [{ trackId, reason: `Somebody else's file has its name there (${pathOf(track, system)})` }];
  return needs.map(({ reason, mend }) => ({ trackId, reason, mend }));
}

function itemOf({ path, trackId, recipe }: StickFile, track: PlannedTrack, system: PlayoutSystem): PlannedFile {
  const { lufs, ceilingDbtp, hertz } = system;
  const values: TrackValues = Object.fromEntries(ITEM_FIELDS.map((field) => [field, track.values[field] ?? null]));
  const id = idOf(track, system);
  const texts = [cartOf(values, system, Number.MAX_SAFE_INTEGER), bextOf(values, id, NO_LOUDNESS, '')];
  return {
    path,
    sound: printOf(JSON.stringify([track.audioHash ?? `${track.size} bytes`, lufs, ceilingDbtp, hertz])),
    tags: printOf(JSON.stringify(texts)),
    bytes: bytesFor(recipe, track, hertz),
    madeOf: { is: 'item', trackId, recipe, values, system },
  };
}
const NO_LOUDNESS = { value: null, range: null, maxTruePeak: null, maxMomentary: null, maxShortTerm: null };

/** The log of an hour: of what is refused nothing is said in it. */
function logOf(
  { at, items }: PlayoutHour,
  seen: ReadonlyMap<number, StickFile | null>,
  tracks: ReadonlyMap<number, PlannedTrack>,
  system: PlayoutSystem,
  names: Set<string>,
): PlannedFile {
  const lines = items.flatMap((item) =>
    seen.get(item.trackId) ? [{ time: moment(item.at), id: idOf(tracks.get(item.trackId)!, system) }] : [],
  );
  const name = `${system.logs}/${format(new Date(at * 1000), 'yyyy-MM-dd HHmm')}`;
  let path = `${name}.csv`;
  for (let n = 2; names.has(sameName(path)); n++) path = `${name} ${n}.csv`;
  names.add(sameName(path));
  return ofText(path, hourLog(lines));
}

/** With its offset: an hour that a clock shows twice is told apart. */
const moment = (at: number): string => format(new Date(at * 1000), "yyyy-MM-dd'T'HH:mm:ssxxx");
