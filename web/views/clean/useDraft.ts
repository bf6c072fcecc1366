/** The draft of the Clean stage: what the steps come to, without what was left out, and making it. */
import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import type { Applied, Selection } from '@early-set/core/api/types';
import type { FieldEdit } from '@early-set/core/changes/fields';
import { isChanged } from '@early-set/core/clean/presets';
import type { Answer } from '@early-set/core/clean/runSteps';
import { change, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { usePresets } from '../../data/hooks.ts';
import { useClean } from './useClean.ts';
import type { StepsState } from './useSteps.ts';

/** What the steps in hand are called: after their preset, and whether they still are what was saved. */
export function usePresetTitle({ preset }: StepsState): string {
  const { data: saved = [] } = usePresets();
  const own = saved.find((s) => s.id === preset.id);
  return own && isChanged(own.steps, preset.steps) ? `${preset.name}, changed` : preset.name;
}

export function useDraft(state: StepsState, selection: Selection) {
  const { preset } = state;
  const [answers, setAnswers] = useState<Record<string, Answer>>({});
  const [leftOut, setLeftOut] = useState<ReadonlySet<number>>(new Set());
  const [applying, setApplying] = useState(false);
  const title = usePresetTitle(state);
  const clean = useClean(selection, preset.steps, answers);
  const { result } = clean;
  const draft = useMemo(() => (result?.changes ?? []).filter((c) => !leftOut.has(c.id)), [result, leftOut]);

  const answer = (key: string, given: Answer | null): void =>
    setAnswers((now) =>
      given
        ? { ...now, [key]: given }
        : Object.fromEntries(Object.entries(now).filter(([k]) => !k.startsWith(`${key}:`))),
    );
  const leaveOut = (id: number): void =>
    setLeftOut((now) => {
      const next = new Set(now);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  /** Answers and what was left out were about other tracks. */
  const forget = (): void => {
    setAnswers({});
    setLeftOut(new Set());
  };
  const discard = (): void => {
    const before = preset;
    state.keep({ ...preset, steps: preset.steps.map((s) => ({ ...s, on: false })) });
    toast('The draft is discarded: all steps are off', {
      action: { label: 'Undo', onClick: () => state.keep(before) },
    });
  };
  const apply = async (): Promise<void> => {
    if (draft.length === 0 || applying) return;
    setApplying(true);
    const edits: FieldEdit[] = draft.map(({ id, fields }) => ({
      trackId: id,
      fields: Object.fromEntries(fields.map(({ field, before, after }) => [field, { before, after }])),
    }));
    const done = await change(
      post<Applied>('/drafts/fields', { title: `${title || 'Clean'}: ${several(draft.length, 'track')}`, edits }),
    );
    setApplying(false);
    if (done) {
      forget();
      clean.again();
    }
  };
  return { clean, draft, leftOut, leaveOut, answer, discard, apply, applying, forget };
}
