/**
 * The patterns found in file names: per group what each part means, with samples; changed for a group, for single
 * names, or a name split by hand.
 */
import { ArrowLeft } from 'lucide-react';
import { useState } from 'react';
import { needsLook, type NameGroup } from '@early-set/core/clean/nameGroup';
import type { Step } from '@early-set/core/clean/steps';
import { several } from '../../data/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { Group, type NamesStep } from './NameGroup.tsx';

interface Props {
  step: NamesStep;
  groups: readonly NameGroup[];
  onChange: (step: Step) => void;
  onClose: () => void;
}

export function NamePatterns({ step, groups, onChange, onClose }: Props) {
  const [onlyOpen, setOnlyOpen] = useState(false);
  const open = groups.filter(needsLook);
  const shown = (
    onlyOpen ? open : [...open, ...groups.filter((g) => !needsLook(g)).sort((a, b) => a.sure - b.sure)]
  ).slice(0, 200);
  const set = (options: Partial<NamesStep['options']>): void =>
    onChange({ ...step, options: { ...step.options, ...options } });
  return (
    <section aria-label="Patterns in file names" className="flex h-full flex-col bg-sheet">
      <header className="flex min-h-[50px] items-center gap-3 border-b border-line bg-paper px-3.5 py-2">
        <Button kind="quiet" aria-label="Back to the tracks" onClick={onClose}>
          <ArrowLeft size={15} />
        </Button>
        <h1 className="heading text-[17px]">Patterns in file names</h1>
        <span className="text-small text-dim" aria-live="polite">
          {several(groups.length, 'pattern')},{' '}
          {open.length === 0
            ? 'none to check'
            : `${open.length.toLocaleString('en-GB')} to check before they are applied`}
        </span>
        <span className="flex-1" />
        {open.length > 0 && (
          <label className="flex items-center gap-1.5 text-small">
            <input
              type="checkbox"
              checked={onlyOpen}
              onChange={(e) => setOnlyOpen(e.target.checked)}
              className="accent-ink"
            />
            only these
          </label>
        )}
      </header>
      <div className="min-h-0 flex-1 overflow-y-auto">
        {shown.map((g) => (
          <Group key={g.key} group={g} step={step} set={set} />
        ))}
        {groups.length > shown.length && !onlyOpen && (
          <p className="p-4 text-dim">
            The 200 of least confidence of {groups.length.toLocaleString('en-GB')} are shown.
          </p>
        )}
      </div>
    </section>
  );
}
