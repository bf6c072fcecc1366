/** Making a self-filling crate, or giving one other conditions; what it would hold is shown while it is built. */
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Applied } from '@early-set/core/api/types';
import { EVERYTHING } from '@early-set/core/conditions/condition';
import { LIMIT_FIELDS, MAX_LIMIT, type Limit, type Rule } from '@early-set/core/conditions/rule';
import { fieldOf } from '@early-set/core/fields/table';
import { change, several } from '../../data/actions.ts';
import { patch, post } from '../../data/api.ts';
import { useMatching } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { Builder } from './Builder.tsx';
import { toCondition, toGroup } from './parts.ts';

const BOX = 'h-[28px] rounded-xs border border-line bg-sheet px-1.5';

export interface RuleAsk {
  /** The crate that has these conditions; null for a new one. */
  listId: string | null;
  name: string;
  rule: Rule;
  parentId?: string | null;
}

export function RuleDialog({ ask, onClose }: { ask: RuleAsk | null; onClose: () => void }) {
  return (
    <Dialog
      open={ask !== null}
      onClose={onClose}
      title={ask?.listId ? `Conditions of ${ask.name}` : 'New self-filling crate'}
      note="It always holds just the tracks that meet its conditions."
      wide
    >
      {ask && <RuleForm ask={ask} onClose={onClose} />}
    </Dialog>
  );
}

function RuleForm({ ask, onClose }: { ask: RuleAsk; onClose: () => void }) {
  const navigate = useNavigate();
  const [name, setName] = useState(ask.name);
  const [group, setGroup] = useState(() => toGroup(ask.rule.where));
  const [limit, setLimit] = useState<Limit | undefined>(ask.rule.limit);
  const where = toCondition(group) ?? EVERYTHING;
  const rule: Rule = limit ? { where, limit } : { where };
  const save = async (): Promise<void> => {
    if (ask.listId) {
      if (await change(patch<Applied>(`/lists/${ask.listId}`, { rule }))) onClose();
      return;
    }
    const made = await change(
      post<Applied & { listId: string }>('/lists', {
        kind: 'crate',
        name: name.trim(),
        parentId: ask.parentId ?? null,
        rule,
      }),
    );
    if (!made) return;
    onClose();
    void navigate(`/arrange/${made.listId}`);
  };
  return (
    <form
      className="flex min-h-0 flex-1 flex-col gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      {ask.listId === null && (
        <label className="flex items-center gap-2">
          <span className="w-14">Name</span>
          <input value={name} maxLength={1000} onChange={(e) => setName(e.target.value)} className={`${BOX} flex-1`} />
        </label>
      )}
      <div className="min-h-0 overflow-y-auto">
        <Builder group={group} onChange={setGroup} own={ask.listId} />
        <LimitLine limit={limit} onChange={setLimit} />
      </div>
      <Preview rule={rule} />
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button type="submit" kind="main" disabled={ask.listId === null && !name.trim()}>
          {ask.listId ? 'Save the conditions' : 'Make the crate'}
        </Button>
      </div>
    </form>
  );
}

function LimitLine({ limit, onChange }: { limit: Limit | undefined; onChange: (limit: Limit | undefined) => void }) {
  const by = limit?.by ?? 'addedAt';
  const next = (count: number, id: string, descending: boolean): void =>
    onChange(
      id === 'random' ? { count, by: 'random', seed: Math.floor(Math.random() * 1e9) } : { count, by: id, descending },
    );
  const descending = limit && 'descending' in limit ? limit.descending : true;
  return (
    <div className="mt-3 flex flex-wrap items-center gap-1.5 border-t border-hair pt-2.5">
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={limit !== undefined}
          onChange={(e) => (e.target.checked ? next(50, 'addedAt', true) : onChange(undefined))}
        />
        Only
      </label>
      <input
        aria-label="At most so many"
        type="number"
        min={1}
        max={MAX_LIMIT}
        disabled={!limit}
        value={limit?.count ?? 50}
        onChange={(e) => {
          const count = Math.min(MAX_LIMIT, Math.max(1, Math.round(Number(e.target.value) || 1)));
          onChange(limit && { ...limit, count });
        }}
        className={`${BOX} figures w-[76px]`}
      />
      <span>tracks, by</span>
      <select
        aria-label="By"
        disabled={!limit}
        value={by}
        onChange={(e) => next(limit!.count, e.target.value, descending)}
        className={`${BOX} max-w-[170px]`}
      >
        <option value="random">chance</option>
        {LIMIT_FIELDS.map((id) => (
          <option key={id} value={id}>
            {fieldOf(id).label}
          </option>
        ))}
      </select>
      {by === 'random' ? (
        <Button kind="link" disabled={!limit} onClick={() => next(limit!.count, 'random', false)}>
          Draw others
        </Button>
      ) : (
        <select
          aria-label="Order"
          disabled={!limit}
          value={descending ? 'last' : 'first'}
          onChange={(e) => next(limit!.count, by, e.target.value === 'last')}
          className={BOX}
        >
          <option value="last">highest or newest first</option>
          <option value="first">lowest or oldest first</option>
        </select>
      )}
    </div>
  );
}

/** How many tracks it would hold, and the first of them. */
function Preview({ rule: { where, limit } }: { rule: Rule }) {
  const { data, error } = useMatching(where, limit && 'descending' in limit ? limit : null);
  const total = data && Math.min(data.total, limit?.count ?? Infinity);
  return (
    <section aria-label="What it would hold" className="rounded-xs border border-line bg-sheet px-2.5 py-1.5">
      <p className="font-semibold" aria-live="polite" data-testid="rule-count">
        {error ? 'This cannot be asked' : total === undefined ? 'Counting…' : several(total, 'track')}
        {data && total! < data.total && (
          <span className="font-normal text-dim"> of {data.total.toLocaleString('en-GB')}</span>
        )}
      </p>
      <ul className="mt-0.5 h-[86px] overflow-hidden text-small text-dim">
        {data?.rows.map(({ id, values }) => (
          <li key={id} className="truncate">
            {[Array.isArray(values.artist) ? values.artist.join('; ') : null, values.title ?? values.path]
              .filter(Boolean)
              .join(' – ')}
          </li>
        ))}
      </ul>
    </section>
  );
}
