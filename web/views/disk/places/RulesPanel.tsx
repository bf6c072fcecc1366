/** The naming rules in their order, what names may hold, and the draft. */
import { useState } from 'react';
import { Trash2 } from 'lucide-react';
import type { OutOfPlace } from '@early-set/core/api/disk';
import { READY_RULES, type Naming, type NamingRule } from '@early-set/core/naming/naming';
import { MAX_NAME_BYTES, MIN_NAME_BYTES, type NameOptions } from '@early-set/core/naming/safeNames';
import { several } from '../../../data/actions.ts';
import { useDeskSetting } from '../../../data/deskSetting.ts';
import { Button } from '../../../ui/Button.tsx';
import { SavedInput } from '../../../ui/form/SavedInput.tsx';
import { Menu } from '../../../ui/Menu.tsx';
import { Reorder, useReorderLine } from '../../../ui/Reorder.tsx';
import { Toggle } from '../../../ui/Toggle.tsx';
import { DraftCard } from '../DraftCard.tsx';
import { RuleBody } from './RuleBody.tsx';
import type { Placing } from './usePlacing.ts';

interface Props {
  places: OutOfPlace | undefined;
  placing: Placing;
  /** The track that examples are made of. */
  example: number | null;
}

export function RulesPanel({ places, placing, example }: Props) {
  const [naming, setNaming, refused] = useDeskSetting('naming');
  const [open, setOpen] = useState<string | null>(null);
  const { rules } = naming;
  const setRules = (next: readonly NamingRule[]): void => setNaming({ ...naming, rules: next });
  const add = (rule: Omit<NamingRule, 'id'>): void => {
    const id = crypto.randomUUID();
    setRules([...rules, { ...rule, id }]);
    setOpen(id);
  };
  const move = (from: string, to: string): void => {
    const next = [...rules];
    const at = next.findIndex((r) => r.id === from),
      target = next.findIndex((r) => r.id === to);
    next.splice(target, 0, ...next.splice(at, 1));
    setRules(next);
  };
  return (
    <aside aria-label="Naming rules" className="flex h-full flex-col gap-4 overflow-y-auto bg-paper p-3.5">
      <section>
        <h2 className="heading text-[17px]">Naming rules</h2>
        <p className="mt-1 text-small text-dim">
          The first rule that takes a track counts. Files move only when you apply the draft.
        </p>
        <Reorder ids={rules.map((r) => r.id)} onMove={move}>
          <ol aria-label="Naming rules" className="mt-2 border-t border-line">
            {rules.map((rule) => (
              <RuleLine
                key={rule.id}
                rule={rule}
                naming={naming}
                count={places?.lines.filter((l) => l.rule === rule.name).length ?? 0}
                open={open === rule.id}
                onOpen={() => setOpen(open === rule.id ? null : rule.id)}
                onChange={(next) => setRules(rules.map((r) => (r.id === rule.id ? next : r)))}
                onRemove={() => setRules(rules.filter((r) => r.id !== rule.id))}
                example={example}
              />
            ))}
          </ol>
        </Reorder>
        {refused && (
          <p role="alert" className="mt-1.5 text-small text-flare">
            {refused}
          </p>
        )}
        <Menu
          label="Add a rule"
          items={[
            ...READY_RULES.map((rule) => ({ label: rule.name, run: () => add(rule) })),
            {
              label: 'A rule of your own',
              apart: true,
              run: () => add({ name: 'My rule', where: null, on: true, template: '{{ artist }} - {{ title }}' }),
            },
          ]}
        >
          <Button className="mt-2.5 w-full border-dashed!">Add a rule</Button>
        </Menu>
      </section>
      <Options options={naming.options} onChange={(options) => setNaming({ ...naming, options })} />
      {placing.count > 0 && (
        <DraftCard
          label="Draft of moves"
          title={`${several(placing.count, 'file')} to move`}
          note="Lists, cues and history follow. Nothing is overwritten, and all of it can be undone."
          disabled={placing.busy || refused !== null}
          onDiscard={placing.discard}
          onApply={placing.apply}
        />
      )}
    </aside>
  );
}

interface LineProps {
  rule: NamingRule;
  naming: Naming;
  /** How many files that it takes are out of place. */
  count: number;
  open: boolean;
  onOpen: () => void;
  onChange: (rule: NamingRule) => void;
  onRemove: () => void;
  example: number | null;
}

function RuleLine({ rule, naming, count, open, onOpen, onChange, onRemove, example }: LineProps) {
  const { ref, style, handle } = useReorderLine(rule.id, rule.name);
  return (
    <li ref={ref} style={style} className="border-b border-line bg-sheet">
      <div className="flex items-center gap-1.5 py-1 pr-1.5">
        {handle}
        <button
          type="button"
          aria-expanded={open}
          onClick={onOpen}
          className={`min-w-0 flex-1 truncate text-left font-semibold ${rule.on ? '' : 'text-dim'}`}
        >
          {rule.name}
        </button>
        <span className="figures text-dim" title="files out of place">
          {count.toLocaleString('en-GB')}
        </span>
        <Toggle label={`Rule ${rule.name} on`} on={rule.on} onChange={(on) => onChange({ ...rule, on })} />
      </div>
      {open && (
        <div className="border-t border-hair px-2.5 pt-2 pb-2.5">
          <RuleBody rule={rule} options={naming.options} onChange={onChange} example={example} />
          <button
            type="button"
            onClick={onRemove}
            className="mt-2 flex items-center gap-1 text-small text-dim hover:text-flare"
          >
            <Trash2 size={12} />
            Remove this rule
          </button>
        </div>
      )}
    </li>
  );
}

function Options({ options, onChange }: { options: NameOptions; onChange: (options: NameOptions) => void }) {
  return (
    <section aria-label="What names may hold" className="flex flex-col gap-1.5">
      <h3 className="text-small font-semibold text-dim">Names</h3>
      <label className="flex items-center gap-2">
        <span className="flex-1">Signs that</span>
        <select
          aria-label="Signs that names may hold"
          value={options.drives}
          onChange={(e) => onChange({ ...options, drives: e.target.value as NameOptions['drives'] })}
          className="h-[26px] rounded-xs border border-line bg-sheet px-1.5"
        >
          <option value="any drive">every drive takes</option>
          <option value="this drive">this computer takes</option>
        </select>
      </label>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={options.accents === 'plain letters'}
          onChange={(e) => onChange({ ...options, accents: e.target.checked ? 'plain letters' : 'keep' })}
          className="accent-ink"
        />
        Letters without accents
      </label>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={options.articlesBehind}
          onChange={(e) => onChange({ ...options, articlesBehind: e.target.checked })}
          className="accent-ink"
        />
        “The” behind the name
      </label>
      <div className="flex items-center gap-2">
        <span className="flex-1">Longest name, in bytes</span>
        <SavedInput
          label="Longest name, in bytes"
          value={options.maxBytes}
          text={String}
          read={(text) => {
            const n = Number(text);
            return Number.isInteger(n) && n >= MIN_NAME_BYTES && n <= MAX_NAME_BYTES ? n : undefined;
          }}
          onSave={(maxBytes) => maxBytes !== null && onChange({ ...options, maxBytes })}
        />
      </div>
    </section>
  );
}
