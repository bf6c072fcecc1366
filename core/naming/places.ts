/** Where the rules want files, beside where they lie: what is out of place, with the plan that would put it right. */
import { sameRef, type FileRef } from '../files/fileRef.ts';
import { namer, type NamedFile, type Naming } from './naming.ts';
import { planNames } from '../files/plan.ts';

/** A file with what it is named by; which rule takes it is known already. */
export interface PlacedFile extends NamedFile {
  ref: FileRef;
  ruleId: string | null;
}
export interface PlaceWish {
  naming: Naming;
  files: readonly PlacedFile[];
  /** Files that stay where they are. */
  others: readonly FileRef[];
}
export type Place =
  | { kind: 'right' }
  | { kind: 'elsewhere'; to: FileRef; rule: string; numbered: boolean }
  | { kind: 'trouble'; why: string };

/**
 * Where each file is wanted.
 * @throws RuleError for a template that cannot be read or filled
 */
export function placesOf({ naming, files, others }: PlaceWish): Place[] {
  const nameOf = namer(naming, (rule, file) => rule.id === (file as PlacedFile).ruleId);
  const wanted = files.map((file) => nameOf(file));
  const named = files.flatMap((file, at) => {
    const want = wanted[at]!;
    return 'path' in want ? [{ at, ref: file.ref, wanted: { rootId: file.ref.rootId, path: want.path } }] : [];
  });
  // What no rule names keeps its place.
  const still = files.filter((_, at) => 'trouble' in wanted[at]!).map((f) => f.ref);
  const plan = planNames(named, [...others, ...still]);
  const places = wanted.map((want): Place =>
    'trouble' in want ? { kind: 'trouble', why: want.trouble } : { kind: 'right' },
  );
  for (const { at, to, numbered } of plan.moves) {
    const own = named[at]!;
    const { rule } = wanted[own.at] as { rule: { name: string } };
    if (!sameRef(own.ref, to)) places[own.at] = { kind: 'elsewhere', to, rule: rule.name, numbered };
  }
  for (const { at, why } of plan.troubles) places[named[at]!.at] = { kind: 'trouble', why };
  return places;
}
