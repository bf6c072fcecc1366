/**
 * Ordered steps over tracks. Running them changes nothing; it says per track what would be, per step how many
 * tracks it reaches, and asks where a step would empty a field or make two tracks the same.
 */
import { fieldOf } from '../fields/table.ts';
import { isEmpty, sameValue, type FieldValue, type TrackValues } from '../fields/values.ts';
import type { NameGroup } from './nameGroup.ts';
import { folderKey } from '../files/fileRef.ts';
import { endingOf } from '../files/paths.ts';
import { stemOf } from './nameParts.ts';
import { stepKind, type Step } from './steps.ts';
import { stepTitle } from './stepTitle.ts';
import { StepStopped, Working, type Answer, type CleanContext, type CleanTrack } from './workingTrack.ts';

export { StepStopped, type Answer, type CleanContext, type CleanTrack, type RuleRunner } from './workingTrack.ts';

export interface Question {
  stepId: string;
  trackId: number;
  field: string;
  before: FieldValue;
  /**
   * What it is about: a field that would be emptied, two that would be the same, a name that is understood unsurely.
   */
  about: 'emptied' | 'duplicate' | 'file name' | 'unsure';
  reason: string;
  answer: Answer | null;
}
export interface FieldChange {
  field: string;
  before: FieldValue;
  after: FieldValue;
}
export interface StepReport {
  id: string;
  /** Tracks it changes. */ tracks: number;
  /** Why it does nothing. */ trouble: string | null;
  groups?: NameGroup[];
}
export interface CleanResult {
  /** Only tracks that would change, in the order given. */
  changes: { id: number; fields: FieldChange[] }[];
  steps: StepReport[];
  questions: Question[];
  /** Tracks with locked fields that a step would have changed. */
  lockedTracks: number;
}

/** What the steps would do. Steps that are off are passed over. */
export function runSteps(tracks: readonly CleanTrack[], steps: readonly Step[], context: CleanContext): CleanResult {
  const workings = tracks.map((t) => new Working(t));
  const questions: Question[] = [];
  const reports = steps.map((step) =>
    step.on ? runStep(step, workings, context, questions) : { id: step.id, tracks: 0, trouble: null },
  );
  askAboutTwins(workings, context, questions);
  askAboutPlaces(workings, context, questions);
  const changes = workings.flatMap((w) => {
    if (w.touched.length === 0) return [];
    const fields = Object.keys(w.values)
      .filter((f) => w.touched.includes(f) && !sameValue(w.track.values[f], w.values[f]))
      .map((field) => ({ field, before: w.track.values[field] ?? null, after: w.values[field] ?? null }));
    return fields.length ? [{ id: w.track.id, fields }] : [];
  });
  return { changes, steps: reports, questions, lockedTracks: workings.filter((w) => w.touchedLock).length };
}

function runStep(step: Step, workings: readonly Working[], context: CleanContext, questions: Question[]): StepReport {
  context.onStep?.(step.id);
  const kind = stepKind(step.kind);
  const report: StepReport = { id: step.id, tracks: 0, trouble: null };
  let apply: (w: Working) => void;
  try {
    const made = kind.prepare(step, workings, context);
    apply = made.apply;
    if (made.groups) report.groups = made.groups;
  } catch (error) {
    return { ...report, trouble: (error as Error).message };
  }
  const asked = questions.length;
  for (const [i, w] of workings.entries()) {
    w.begin();
    try {
      apply(w);
    } catch (error) {
      if (error instanceof StepStopped) {
        for (const done of workings.slice(0, i + 1)) done.takeBack();
        questions.length = asked;
        return { ...report, tracks: 0, trouble: error.message };
      }
      report.trouble ??= (error as Error).message;
      w.takeBack();
      continue;
    }
    let changed = w.changed();
    if (changed.length === 0) continue;
    if (w.doubt !== null) {
      const field = 'fileName',
        answer = answerTo(context, step.id, w.track.id, field);
      const before = w.track.values.fileName ?? stemOf(w.track.path);
      const about = 'unsure' as const;
      questions.push({ stepId: step.id, trackId: w.track.id, field, before, about, reason: w.doubt, answer });
      if (answer !== 'go') {
        w.takeBack();
        continue;
      }
    }
    let back = false;
    for (const { field, before } of changed) {
      if (isEmpty(before) || !isEmpty(w.values[field]) || kind.mayEmpty?.(step, field)) continue;
      const answer = answerTo(context, step.id, w.track.id, field);
      const label = fieldOf(field).label.toLowerCase();
      const reason = `“${stepTitle(step)}” would leave the ${label} empty`;
      const about = 'emptied' as const;
      questions.push({ stepId: step.id, trackId: w.track.id, field, before: before!, about, reason, answer });
      if (answer === 'go') continue;
      if (kind.fieldByField) w.takeBackField(field);
      else w.takeBack(); // what is no longer here went into another field
      back = true;
    }
    if (back) changed = w.changed();
    if (changed.length > 0) report.tracks++;
  }
  return report;
}

/** What was answered: of this field of this track, else of all that the step asks. */
const answerTo = ({ answers }: CleanContext, stepId: string, trackId: number, field: string): Answer | null =>
  answers[`${stepId}:${trackId}:${field}`] ?? answers[`${stepId}:*`] ?? null;

/** Stands for all steps together where a question is about no single step. */
export const WHOLE = 'whole';
const IDENTITY = ['artist', 'title', 'version', 'album', 'discNumber', 'trackNumber'] as const;

/** What tells a track from others, as one text. */
function identity(values: TrackValues): string {
  let text = '';
  for (const field of IDENTITY) {
    const value = values[field];
    text += `${Array.isArray(value) ? (value.length === 1 ? value[0]! : value.join(';')) : (value ?? '')}\u0001`;
  }
  return text.toLowerCase();
}

/** Two tracks that could be told apart before and cannot be afterwards. */
function askAboutTwins(workings: readonly Working[], context: CleanContext, questions: Question[]): void {
  const after = new Map<string, Working[]>();
  for (const w of workings) {
    if (isEmpty(w.values.title)) continue;
    const key = identity(w.values);
    const group = after.get(key);
    if (group) group.push(w);
    else after.set(key, [w]);
  }
  for (const [key, group] of after) {
    if (group.length < 2) continue;
    const seen = new Set<string>();
    for (const w of group) {
      const before = identity(w.track.values);
      if (seen.size > 0 && !seen.has(before) && before !== key) {
        const answer = answerTo(context, WHOLE, w.track.id, 'title');
        questions.push({
          stepId: WHOLE,
          trackId: w.track.id,
          field: 'title',
          before: w.track.values.title ?? null,
          about: 'duplicate',
          reason: 'It would have the same name as another track',
          answer,
        });
        if (answer !== 'go') w.reset();
      }
      seen.add(before);
    }
  }
}

/** Stands for file names that two files of a folder would both have. */
export const PLACES = 'places';

/**
 * Two files cannot have one name; the second keeps its own, or gets a number when somebody says so. Names that stay
 * come first.
 */
function askAboutPlaces(workings: readonly Working[], context: CleanContext, questions: Question[]): void {
  const named = workings.filter((w) => !isEmpty(w.values.fileName));
  const moved = (w: Working): boolean => !sameValue(w.track.values.fileName, w.values.fileName);
  if (!named.some(moved)) return;
  // Disks that do not tell capitals apart are the ones that decide.
  const placeOf = (w: Working, name: string): string =>
    `${folderKey(w.track)}${name}${endingOf(w.track.path)}`.toLowerCase();
  const taken = new Set(named.filter((w) => !moved(w)).map((w) => placeOf(w, w.text('fileName'))));
  for (const w of named.filter(moved)) {
    const wanted = w.text('fileName'),
      own = w.track.values.fileName ?? null;
    let name = wanted;
    if (taken.has(placeOf(w, name))) {
      const answer = answerTo(context, PLACES, w.track.id, 'fileName');
      questions.push({
        stepId: PLACES,
        trackId: w.track.id,
        field: 'fileName',
        before: own,
        about: 'file name',
        reason: 'Another file of the folder would have the same name',
        answer,
      });
      for (let n = 2; answer === 'go' && taken.has(placeOf(w, name)); n++) name = `${wanted} (${n})`;
      if (answer !== 'go') name = String(own ?? wanted);
    }
    w.values.fileName = name;
    taken.add(placeOf(w, name));
  }
}
