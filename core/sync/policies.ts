/** What is done where the two sides of a sync differ. */

/** Where both have changed: asked about, the desk's, the destination's, only gaps filled, what was changed later. */
export const POLICIES = ['ask', 'here', 'there', 'fill gaps', 'newer'] as const;
export type Policy = (typeof POLICIES)[number];

export const DIRECTIONS = ['both', 'to there', 'from there'] as const;
export type Direction = (typeof DIRECTIONS)[number];

/** The kinds of things that have a policy of their own. */
export const POLICY_KINDS = ['names', 'measured', 'marks', 'lists'] as const;
export type PolicyKind = (typeof POLICY_KINDS)[number];

export interface Policies extends Record<PolicyKind, Policy> {
  direction: Direction;
  /** What is taken out or emptied on one side is so on the other, too. Else it is only added to. */
  removals: boolean;
  /** Tracks that are given to it: all, or those in lists that go there. */
  tracks: 'all' | 'in lists';
}

export const DEFAULT_POLICIES: Policies = {
  direction: 'both',
  removals: false,
  tracks: 'in lists',
  names: 'ask',
  measured: 'ask',
  marks: 'ask',
  lists: 'ask',
};

const all = (policy: Policy): Record<PolicyKind, Policy> => ({
  names: policy,
  measured: policy,
  marks: policy,
  lists: policy,
});

/** Ready sets, by the name under which they are chosen. */
export const READY_POLICIES: Readonly<Record<string, Policies>> = {
  'Ask where both changed': DEFAULT_POLICIES,
  'This desk leads': { ...DEFAULT_POLICIES, ...all('here') },
  'The other side leads': { ...DEFAULT_POLICIES, ...all('there') },
  'Only fill gaps': { ...DEFAULT_POLICIES, ...all('fill gaps') },
  'Make it like here': { ...DEFAULT_POLICIES, ...all('here'), direction: 'to there', removals: true },
};

const fromThere = (name: string): Policies => ({ ...READY_POLICIES[name]!, direction: 'from there' });
/** Those of what is only read. */
export const READY_FROM_THERE: Readonly<Record<string, Policies>> = {
  'Ask where both differ': fromThere('Ask where both changed'),
  'The bundle leads': fromThere('The other side leads'),
  'Only fill gaps': fromThere('Only fill gaps'),
  'The later change': { ...DEFAULT_POLICIES, ...all('newer'), direction: 'from there' },
};

const MEASURED = new Set(['bpm', 'key', 'energy', 'gridStartSeconds', 'beatsPerBar']);

/** Under which policy a field falls. */
export const policyKindOf = (field: string): PolicyKind =>
  field === 'cues' ? 'marks' : MEASURED.has(field) ? 'measured' : 'names';
