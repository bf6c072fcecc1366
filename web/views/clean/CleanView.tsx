/** The Clean stage: steps on the left, what they would do in the middle, the draft on the right. */
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Selection, TrackDetails } from '@early-set/core/api/types';
import { fieldOf } from '@early-set/core/fields/table';
import { useCommands } from '../../commands/commands.ts';
import { StageLayout } from '../../app/StageLayout.tsx';
import { toggleAudition, usePlayer } from '../../audition/player.ts';
import { complain } from '../../data/actions.ts';
import { get } from '../../data/api.ts';
import { useSettings } from '../../data/hooks.ts';
import { useHanded } from '../../data/handed.ts';
import { useRemembered } from '../../data/remembered.ts';
import { Button } from '../../ui/Button.tsx';
import { Chip } from '../../ui/Chip.tsx';
import { Empty, Trouble } from '../../ui/Empty.tsx';
import { textOf } from '../../ui/format.ts';
import { WriteDialog } from '../changes/WriteDialog.tsx';
import { CleanInspector } from './CleanInspector.tsx';
import { rowsOf } from './cleanRows.ts';
import { CleanSheet, type CleanRow } from './CleanSheet.tsx';
import { NamePatterns } from './NamePatterns.tsx';
import { StepsPanel } from './StepsPanel.tsx';
import { useSteps } from './useSteps.ts';
import { FIRST_SCOPE, SCOPE, scopeSelection, type Scope } from './scope.ts';
import { ScopePicker } from './ScopePicker.tsx';
import { useDraft } from './useDraft.ts';

/** Columns that are always offered; others come when something changes in them. */
const USUAL = ['title', 'artist', 'version', 'path'];
const UNWRITTEN: Selection = { where: { not: { field: 'unwritten', test: 'empty' } }, except: [] };

export function CleanView() {
  const stepsState = useSteps();
  const { preset } = stepsState;
  const [scope, setScope] = useHanded<Scope>(SCOPE, FIRST_SCOPE);
  const { data: settings } = useSettings();
  const selection = scopeSelection(scope, settings?.gapRules);
  const { clean, draft, leftOut, leaveOut, answer, discard, apply, applying, forget } = useDraft(stepsState, selection);
  const [onlyChanges, setOnlyChanges] = useRemembered<boolean>('clean-only-changes', true);
  const [hidden, setHidden] = useRemembered<string[]>('clean-hidden', []);
  const [focusId, setFocusId] = useState<number | null>(null);
  const [patternsOf, setPatternsOf] = useState<string | null>(null);
  const [writing, setWriting] = useState(false);
  const player = usePlayer();
  const navigate = useNavigate();

  const { tracks, result } = clean;
  const rows = useMemo(
    () => rowsOf(tracks?.tracks ?? [], result?.changes ?? [], result?.questions ?? [], leftOut),
    [tracks, result, leftOut],
  );
  const shown = useMemo(
    () => (onlyChanges ? rows.filter((r) => r.changes.length > 0 || r.questions.some((q) => q.answer === null)) : rows),
    [rows, onlyChanges],
  );
  const changedFields = useMemo(
    () => [...new Set((result?.changes ?? []).flatMap((c) => c.fields.map((f) => f.field)))],
    [result],
  );
  const offered = [...USUAL.slice(0, 3), ...changedFields.filter((f) => !USUAL.includes(f)), 'path'];
  const columns = offered.filter((f) => !hidden.includes(f));
  const focus = shown.findIndex((r) => r.track.id === focusId);
  const nameOf = (id: number): string => {
    const t = tracks?.tracks.find((x) => x.id === id);
    return t ? textOf('title', t.values.title) || t.path.split('/').at(-1)! : 'A track';
  };

  const show = (id: number): void => {
    setFocusId(id);
    setPatternsOf(null);
    document.getElementById('clean-sheet')?.focus();
  };
  const audition = (row: CleanRow): void => {
    get<TrackDetails>(`/tracks/${row.track.id}`).then(toggleAudition, complain);
  };
  useCommands([
    {
      id: 'clean-apply',
      label: 'Apply the draft',
      group: 'Clean',
      run: () => void apply(),
      disabled: draft.length === 0,
    },
    { id: 'clean-discard', label: 'Discard the draft', group: 'Clean', run: discard, disabled: draft.length === 0 },
    {
      id: 'clean-only',
      label: onlyChanges ? 'Show all tracks' : 'Show only what changes',
      group: 'Clean',
      run: () => setOnlyChanges(!onlyChanges),
    },
    {
      id: 'clean-catalogue',
      label: 'Look up in the catalogue',
      group: 'Clean',
      run: () => void navigate('/clean/catalogue'),
    },
    {
      id: 'clean-left',
      label: 'Completeness',
      group: 'Clean',
      run: () => void navigate('/clean/completeness'),
    },
    { id: 'clean-write', label: 'Write tags not written yet…', group: 'Clean', run: () => setWriting(true) },
  ]);

  const patternStep = preset.steps.find((s) => s.id === patternsOf);
  const groups = result?.steps.find((s) => s.id === patternsOf)?.groups;
  const inHand = focus >= 0 ? shown[focus]! : null;
  const trouble = clean.error;
  return (
    <StageLayout
      stage="clean"
      middleMin={420}
      left={{
        what: 'steps',
        width: 292,
        min: 230,
        max: 460,
        content: <StepsPanel state={stepsState} result={result} onPatterns={setPatternsOf} />,
      }}
      right={{
        what: 'inspector',
        width: 268,
        min: 230,
        max: 460,
        content: (
          <CleanInspector
            clean={clean}
            steps={preset.steps}
            draft={draft}
            inHand={inHand}
            nameOf={nameOf}
            onAnswer={answer}
            onShow={show}
            onPatterns={setPatternsOf}
            onLeaveOut={leaveOut}
            onWriteLater={() => setWriting(true)}
            onDiscard={discard}
            onApply={() => void apply()}
            applying={applying}
          />
        ),
      }}
    >
      {patternStep?.kind === 'names' && groups ? (
        <NamePatterns
          step={patternStep}
          groups={groups}
          onChange={stepsState.change}
          onClose={() => setPatternsOf(null)}
        />
      ) : (
        <div className="flex h-full flex-col">
          <div className="flex min-h-[50px] shrink-0 flex-wrap items-center gap-x-2 gap-y-1 border-b border-line bg-paper px-3.5 py-2">
            <h1 className="flex items-baseline gap-1.5">
              <span className="heading text-[19px]">{(tracks?.tracks.length ?? 0).toLocaleString('en-GB')}</span>
              <span className="text-[12.5px] text-dim">
                {tracks && tracks.total > tracks.tracks.length ? `of ${tracks.total.toLocaleString('en-GB')} ` : ''}
                {tracks?.tracks.length === 1 ? 'track' : 'tracks'}
              </span>
            </h1>
            <ScopePicker
              scope={scope}
              onChange={(next) => {
                setScope(next);
                forget();
                setFocusId(null);
              }}
            />
            <Button kind="link" aria-pressed={onlyChanges} onClick={() => setOnlyChanges(!onlyChanges)}>
              {onlyChanges ? 'Show all tracks' : 'Only what changes'}
            </Button>
            <span className="flex-1" />
            <Button
              onClick={() => void navigate('/clean/catalogue')}
              title="Compare with the catalogue, album by album"
            >
              Catalogue
            </Button>
            <Button
              onClick={() => void navigate('/clean/completeness')}
              title="How much is filled, per field, folder, album and list"
            >
              Completeness
            </Button>
            <span role="group" aria-label="Columns" className="flex flex-wrap gap-1">
              {offered.map((f) => (
                <Chip
                  key={f}
                  quiet
                  on={!hidden.includes(f)}
                  onToggle={() => setHidden(hidden.includes(f) ? hidden.filter((h) => h !== f) : [...hidden, f])}
                >
                  {fieldOf(f).label}
                </Chip>
              ))}
            </span>
          </div>
          <div className="min-h-0 flex-1">
            {trouble ? (
              <Trouble error={trouble} />
            ) : !tracks || !result ? (
              <div aria-busy="true" className="p-6 text-dim">
                Reading the tracks…
              </div>
            ) : tracks.total === 0 ? (
              <Empty title="No tracks here">
                <p>Choose other tracks above, or take some in.</p>
                <Button className="mt-3" onClick={() => void navigate('/intake')}>
                  Choose a folder
                </Button>
              </Empty>
            ) : shown.length === 0 ? (
              <Empty title="Nothing would change">
                <p>
                  {preset.steps.some((s) => s.on)
                    ? 'These steps change nothing in these tracks.'
                    : 'All steps are off. Switch one on, or add one on the left.'}
                </p>
                <Button className="mt-3" onClick={() => setOnlyChanges(false)}>
                  Show all tracks
                </Button>
              </Empty>
            ) : (
              <CleanSheet
                rows={shown}
                columns={columns}
                focus={focus < 0 ? null : focus}
                onFocus={(i) => setFocusId(shown[i]?.track.id ?? null)}
                onLeaveOut={leaveOut}
                onAudition={audition}
                playingId={player.playing ? (player.track?.id ?? null) : null}
              />
            )}
          </div>
        </div>
      )}
      <WriteDialog selection={writing ? UNWRITTEN : null} onClose={() => setWriting(false)} />
    </StageLayout>
  );
}
