/** One rule opened: its name, what it takes, how it names, and what that makes of a track. */
import { useState } from 'react';
import { EVERYTHING } from '@early-set/core/conditions/condition';
import { conditionWords } from '@early-set/core/conditions/words';
import { FIELDS } from '@early-set/core/fields/table';
import { MAX_TEMPLATE, namer, type NamingRule } from '@early-set/core/naming/naming';
import type { NameOptions } from '@early-set/core/naming/safeNames';
import { useTrack } from '../../../data/hooks.ts';
import { Button } from '../../../ui/Button.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';
import { SavedInput } from '../../../ui/form/SavedInput.tsx';
import { Builder } from '../../filling/Builder.tsx';
import { toCondition, toGroup } from '../../filling/parts.ts';
import { useKnown } from '../../filling/useKnown.ts';

interface Props {
  rule: NamingRule;
  options: NameOptions;
  onChange: (rule: NamingRule) => void;
  example: number | null;
}

export function RuleBody({ rule, options, onChange, example }: Props) {
  const [typed, setTyped] = useState(rule.template);
  const [conditions, setConditions] = useState(false);
  const known = useKnown();
  return (
    <div className="flex flex-col gap-1.5 text-small">
      <label className="flex items-center gap-2">
        <span className="w-[44px] text-dim">Name</span>
        <SavedInput
          label="Name of the rule"
          value={rule.name}
          text={String}
          read={(text) => text || undefined}
          onSave={(name) => name && onChange({ ...rule, name })}
          words
          className="min-w-0 flex-1"
        />
      </label>
      <div className="flex items-baseline gap-2">
        <span className="w-[44px] text-dim">Takes</span>
        <span className="min-w-0 flex-1">{rule.where ? conditionWords(rule.where, known) : 'every track'}</span>
        <Button kind="link" onClick={() => setConditions(true)}>
          Change
        </Button>
      </div>
      <label className="flex flex-col gap-1">
        <span className="text-dim">Folders and name, with slashes between</span>
        <textarea
          value={typed}
          rows={4}
          maxLength={MAX_TEMPLATE}
          spellCheck={false}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={() => typed !== rule.template && onChange({ ...rule, template: typed })}
          className="figures resize-y rounded-xs border border-line bg-paper px-1.5 py-1"
        />
      </label>
      <Example rule={{ ...rule, template: typed }} options={options} trackId={example} />
      <details>
        <summary className="text-dim">Fields that can be used</summary>
        <p className="figures mt-1 max-h-[120px] overflow-y-auto leading-[18px]">
          {[...FIELDS.filter((f) => f.type !== 'marks' && f.id !== 'path').map((f) => f.id), 'list'].join(', ')}
        </p>
      </details>
      <Dialog
        open={conditions}
        onClose={() => setConditions(false)}
        title={`What ${rule.name} takes`}
        note="The first rule in the list whose conditions a track meets names its file."
        wide
      >
        <Conditions
          rule={rule}
          onSave={(where) => {
            onChange({ ...rule, where });
            setConditions(false);
          }}
          onClose={() => setConditions(false)}
        />
      </Dialog>
    </div>
  );
}

/** What the rule makes of a track, as it is typed. */
function Example({ rule, options, trackId }: { rule: NamingRule; options: NameOptions; trackId: number | null }) {
  const { data: track } = useTrack(trackId);
  let words: string,
    trouble = false;
  try {
    const nameOf = namer({ rules: [{ ...rule, where: null, on: true }], options });
    if (!track) return null;
    const { values } = track;
    const wanted = nameOf({ path: String(values.path ?? ''), values, root: String(values.root ?? ''), lists: [] });
    trouble = 'trouble' in wanted;
    words = 'trouble' in wanted ? wanted.trouble : wanted.path;
  } catch (error) {
    trouble = true;
    words = (error as Error).message;
  }
  return (
    <p data-testid="rule-example" className={`break-words ${trouble ? 'text-flare' : 'text-kelp'}`}>
      {words}
    </p>
  );
}

interface ConditionsProps {
  rule: NamingRule;
  onSave: (where: NamingRule['where']) => void;
  onClose: () => void;
}

function Conditions({ rule, onSave, onClose }: ConditionsProps) {
  const [group, setGroup] = useState(() => toGroup(rule.where ?? EVERYTHING));
  return (
    <form
      className="flex min-h-0 flex-1 flex-col gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        onSave(toCondition(group));
      }}
    >
      <div className="min-h-0 overflow-y-auto">
        <Builder group={group} onChange={setGroup} own={null} />
      </div>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button type="submit" kind="main">
          Save the conditions
        </Button>
      </div>
    </form>
  );
}
