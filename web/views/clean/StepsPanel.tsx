/** The left column: the steps, in order, each with its switch, its options and how many tracks it reaches. */
import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import type { CleanResult, StepReport } from '@early-set/core/clean/runSteps';
import { needsLook } from '@early-set/core/clean/nameGroup';
import { STEP_KINDS, type Step } from '@early-set/core/clean/steps';
import { stepTitle } from '@early-set/core/clean/stepTitle';
import { several } from '../../data/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { Menu } from '../../ui/Menu.tsx';
import { Reorder, useReorderLine } from '../../ui/Reorder.tsx';
import { Toggle } from '../../ui/Toggle.tsx';
import { usePresetTitle } from './useDraft.ts';
import type { StepsState } from './useSteps.ts';
import { Presets } from './Presets.tsx';
import { StepBody } from './options/StepBody.tsx';

interface Props {
  state: StepsState;
  result: CleanResult | null;
  onPatterns: (stepId: string) => void;
}

export function StepsPanel({ state, result, onPatterns }: Props) {
  const [open, setOpen] = useState<string | null>(null);
  const { preset } = state;
  const title = usePresetTitle(state);
  const remove = (step: Step): void => {
    state.remove(step.id);
    toast(`The step is removed: ${stepTitle(step)}`, { action: { label: 'Undo', onClick: () => state.keep(preset) } });
  };
  return (
    <section aria-label="Steps" className="flex h-full flex-col bg-fog">
      <header className="flex items-center gap-2 px-3 pt-3 pb-2.5">
        <h2 className="heading min-w-0 flex-1 truncate text-[17px]" title={title}>
          {title || 'Steps'}
        </h2>
        <Presets state={state} />
      </header>
      <div className="min-h-0 flex-1 overflow-y-auto px-3 pb-3">
        <Reorder ids={preset.steps.map((s) => s.id)} onMove={state.move}>
          <ol aria-label="Steps" className="border-x border-b border-line bg-sheet">
            {preset.steps.map((step, i) => (
              <StepLine
                key={step.id}
                step={step}
                number={i + 1}
                report={result?.steps.find((r) => r.id === step.id)}
                open={open === step.id}
                onOpen={() => setOpen(open === step.id ? null : step.id)}
                onChange={state.change}
                onRemove={() => remove(step)}
                onPatterns={() => onPatterns(step.id)}
              />
            ))}
          </ol>
        </Reorder>
        {preset.steps.length === 0 && (
          <p className="border border-t-0 border-line bg-sheet p-3 text-dim">
            No steps yet. Add one, or take a ready-made preset.
          </p>
        )}
        <Menu
          label="Add a step"
          items={STEP_KINDS.map((k) => ({ label: k.label, run: () => setOpen(state.add(k.id)) }))}
        >
          <Button className="mt-2.5 w-full border-dashed!">Add a step</Button>
        </Menu>
      </div>
    </section>
  );
}

interface LineProps {
  step: Step;
  number: number;
  report: StepReport | undefined;
  open: boolean;
  onOpen: () => void;
  onChange: (step: Step) => void;
  onRemove: () => void;
  onPatterns: () => void;
}

function StepLine({ step, number, report, open, onOpen, onChange, onRemove, onPatterns }: LineProps) {
  const title = stepTitle(step);
  const { ref, style, isDragging, handle } = useReorderLine(step.id, `step ${number}: ${title}`);
  const groups = report?.groups,
    unsure = groups?.filter(needsLook).length ?? 0;
  return (
    <li
      ref={ref}
      style={style}
      className={`relative border-t border-line bg-sheet ${open ? 'in-hand' : ''} ${isDragging ? 'z-10 opacity-80' : ''}`}
    >
      <div className="flex items-start gap-1 py-2 pr-3 pl-1.5">
        {handle}
        <button type="button" aria-expanded={open} onClick={onOpen} className="min-w-0 flex-1 text-left">
          <span className={`block leading-[17px] font-semibold ${step.on ? '' : 'text-dim'}`}>
            {number}. {title}
          </span>
          <span className={`text-small ${report?.trouble ? 'text-sodium-text' : 'text-dim'}`}>
            {!step.on ? 'off' : (report?.trouble ?? (report ? several(report.tracks, 'track') : '…'))}
          </span>
        </button>
        <span className="mt-0.5 flex">
          <Toggle label={`Step ${number} on`} on={step.on} onChange={(on) => onChange({ ...step, on })} />
        </span>
      </div>
      {step.on && groups && groups.length > 0 && (
        <button
          type="button"
          onClick={onPatterns}
          className="mb-2 ml-[34px] block text-left text-small font-semibold text-buoy-text hover:underline"
        >
          {several(groups.length, 'pattern')} found in {several(new Set(groups.map((g) => g.folder)).size, 'folder')}
          {unsure > 0 && <span className="text-sodium-text">, {unsure.toLocaleString('en-GB')} to check</span>}
        </button>
      )}
      {open && (
        <div className="pr-3 pb-2.5 pl-[34px]">
          <StepBody step={step} onChange={onChange} trouble={report?.trouble ?? null} />
          <button
            type="button"
            onClick={onRemove}
            className="mt-2 flex items-center gap-1 text-small text-dim hover:text-flare"
          >
            <Trash2 size={12} />
            Remove this step
          </button>
        </div>
      )}
    </li>
  );
}
