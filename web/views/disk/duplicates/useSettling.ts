/** Which file of each group stays and which groups are settled: a draft until it is applied. */
import { useState } from 'react';
import { toast } from 'sonner';
import type { DuplicateGroupLine, SettledGroup } from '@early-set/core/api/disk';
import type { Applied } from '@early-set/core/api/types';
import { factsOf } from '@early-set/core/duplicates/facts';
import { isOpen, isSure } from '@early-set/core/duplicates/groups';
import { keepOf, type Criterion, type KeepOrder } from '@early-set/core/duplicates/keep';
import { change, perform, several } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { useDeskSetting } from '../../../data/deskSetting.ts';

export interface GroupPlan {
  keep: number;
  /** What decided; null: nothing did, or it was chosen by hand. */
  by: Criterion | null;
  byHand: boolean;
  /** Its other files go into quarantine. */
  settled: boolean;
}

export interface Settling {
  order: KeepOrder;
  setOrder: (order: KeepOrder) => void;
  planOf: (group: DuplicateGroupLine) => GroupPlan | null;
  keep: (group: DuplicateGroupLine, trackId: number) => void;
  /** Takes groups out of the draft or into it. */
  settle: (groups: readonly DuplicateGroupLine[], settled: boolean) => void;
  /** Says that the files of a group are no duplicates, or that they are after all. */
  part: (group: DuplicateGroupLine, parted: boolean) => void;
  discard: () => void;
  apply: () => void;
  groups: number;
  files: number;
  bytes: number;
  /** Folders that files of open groups lie in. */
  folders: readonly string[];
  /** How many groups each line of the order decided. */
  decided: ReadonlyMap<Criterion, number>;
}

const keyOf = (group: DuplicateGroupLine): string => group.trackIds.join('-');

export function useSettling(groups: readonly DuplicateGroupLine[]): Settling {
  const [order, setOrder] = useDeskSetting('keepOrder');
  const [kept, setKept] = useState<ReadonlyMap<string, number>>(new Map());
  const [said, setSaid] = useState<ReadonlyMap<string, boolean>>(new Map());
  const planOf = (group: DuplicateGroupLine): GroupPlan | null => {
    if (!isOpen(group) || group.files.length < 2) return null;
    const byHand = kept.get(keyOf(group));
    const { trackId, by } = keepOf(group.files.map(factsOf), order);
    const settled = said.get(keyOf(group)) ?? isSure(group);
    return byHand === undefined
      ? { keep: trackId, by, byHand: false, settled }
      : { keep: byHand, by: null, byHand: true, settled };
  };
  const plans = groups.flatMap((group) => {
    const plan = planOf(group);
    return plan ? [{ group, plan }] : [];
  });
  const settled = plans.filter(({ plan }) => plan.settled);
  const going = settled.flatMap(({ group, plan }) => group.files.filter((f) => f.trackId !== plan.keep));
  const decided = new Map<Criterion, number>();
  for (const { plan } of plans) if (plan.by) decided.set(plan.by, (decided.get(plan.by) ?? 0) + 1);
  const discard = (): void => {
    setKept(new Map());
    setSaid(new Map(plans.map(({ group }) => [keyOf(group), false])));
  };
  return {
    order,
    setOrder,
    planOf,
    keep: (group, trackId) => setKept(new Map([...kept, [keyOf(group), trackId]])),
    settle: (some, to) => setSaid(new Map([...said, ...some.map((g) => [keyOf(g), to] as const)])),
    part: (group, parted) => {
      const say = (to: boolean): Promise<object | undefined> =>
        perform(post<object>('/disk/duplicates/parted', { trackIds: group.trackIds, parted: to }));
      void say(parted).then((said) => {
        if (!said) return;
        toast(parted ? 'They are no duplicates from now on' : 'They are duplicates again', {
          action: { label: 'Undo', onClick: () => void say(!parted) },
        });
      });
    },
    discard,
    apply: () => {
      const wish: SettledGroup[] = settled.map(({ group, plan }) => ({
        keep: plan.keep,
        go: group.trackIds.filter((id) => id !== plan.keep),
      }));
      void change(
        post<Applied>('/disk/duplicates/settle', { groups: wish }),
        `${several(going.length, 'file')} in quarantine`,
      );
    },
    groups: settled.length,
    files: going.length,
    bytes: going.reduce((sum, f) => sum + f.size, 0),
    decided,
    folders: [...new Set(plans.flatMap(({ group }) => group.files.map((f) => factsOf(f).folder)))].sort(),
  };
}
