/** The catalogue, part of Clean: look-ups, compared and taken release by release. */
import { ArrowLeft } from 'lucide-react';
import { useEffect, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import type { GroupDetails, GroupState, TakePolicies } from '@early-set/core/api/catalogue';
import type { Applied } from '@early-set/core/api/types';
import { fillerPolicies, DEFAULT_POLICIES } from '@early-set/core/catalogue/proposals';
import { useCommands } from '../../commands/commands.ts';
import { StageLayout } from '../../app/StageLayout.tsx';
import { change, complain, perform } from '../../data/actions.ts';
import { patch, post } from '../../data/api.ts';
import { useCatalogue, useLookup, useLookupGroup, useRuns } from '../../data/hooks.ts';
import { useRemembered } from '../../data/remembered.ts';
import { Button } from '../../ui/Button.tsx';
import { Empty, Trouble } from '../../ui/Empty.tsx';
import { GroupList, STATE_WORDS } from './GroupList.tsx';
import { LookupDialog } from './LookupDialog.tsx';
import { ReleaseMatch } from './ReleaseMatch.tsx';
import { TakeAll } from './TakeAll.tsx';
import { ReleaseInspector } from './ReleaseInspector.tsx';

const FIRST_POLICIES: TakePolicies = { ...DEFAULT_POLICIES, picture: 'fill gaps' };

export function CatalogueView() {
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const { data: catalogue } = useCatalogue();
  const lookupId = Number(params.get('lookup')) || (catalogue?.latest ?? null);
  const { data: lookup, error } = useLookup(lookupId);
  const { data: runs } = useRuns();
  const [starting, setStarting] = useState(false);
  const [only, setOnly] = useState<GroupState | null>(null);
  const [inHand, setInHand] = useState<number | null>(null);
  const [busy, setBusy] = useState(false);
  const [takingAll, setTakingAll] = useState(false);
  const [kept, keep] = useRemembered<TakePolicies>('merge-policies', FIRST_POLICIES);
  // A filler takes only what it was asked to fill.
  const policies: TakePolicies = lookup?.fill
    ? { ...fillerPolicies(lookup.fill.fields, lookup.fill.clear), genres: kept.genres, picture: 'keep' }
    : kept;
  const shown = (lookup?.groups ?? []).filter((g) => only === null || g.state === only);
  const wanted = Number(params.get('group')) || null;
  const groupId =
    (shown.some((g) => g.id === wanted) ? wanted : null) ??
    shown.find((g) => g.state === 'found' || g.state === 'unsure')?.id ??
    shown[0]?.id ??
    null;
  const { data: group } = useLookupGroup(lookup?.id ?? null, groupId);
  const current = group?.id === groupId ? group : undefined;
  const candidate = current?.candidates.find((c) => c.release.id === current.chosen);

  const choose = (id: number): void => {
    setParams(
      (p) => {
        const next = new URLSearchParams(p);
        next.set('group', String(id));
        return next;
      },
      { replace: true },
    );
    setInHand(null);
  };
  const step = (by: number): void => {
    const at = shown.findIndex((g) => g.id === groupId),
      next = shown[Math.max(0, Math.min(shown.length - 1, at + by))];
    if (next) choose(next.id);
  };
  const alter = (wish: object): void => {
    if (lookup && groupId !== null) {
      setBusy(true);
      patch<GroupDetails>(`/lookups/${lookup.id}/groups/${groupId}`, wish)
        .catch(complain)
        .finally(() => setBusy(false));
    }
  };
  const take = async (groups: number[] | null): Promise<void> => {
    if (!lookup) return;
    setBusy(true);
    const next = groups && shown[shown.findIndex((g) => g.id === groupId) + 1];
    if ((await change(post<Applied>(`/lookups/${lookup.id}/take`, { groups, policies }))) && next) choose(next.id);
    setBusy(false);
  };
  const skip = (skipped: boolean): void => {
    alter({ skipped });
    if (skipped) step(1);
  };
  useCommands([
    { id: 'catalogue-start', label: 'Look up in the catalogue…', group: 'Catalogue', run: () => setStarting(true) },
    {
      id: 'catalogue-take',
      label: 'Apply what the catalogue says',
      group: 'Catalogue',
      run: () => {
        if (groupId !== null) void take([groupId]);
      },
      disabled: !candidate,
    },
    { id: 'catalogue-next', label: 'Next group', group: 'Catalogue', run: () => step(1) },
    { id: 'catalogue-clean', label: 'Back to the steps', group: 'Catalogue', run: () => void navigate('/clean') },
  ]);
  useEffect(() => {
    const press = (e: KeyboardEvent): void => {
      if (
        (e.key !== 'ArrowDown' && e.key !== 'ArrowUp') ||
        !(e.target instanceof HTMLElement) ||
        !e.target.dataset.group
      )
        return;
      e.preventDefault();
      step(e.key === 'ArrowDown' ? 1 : -1);
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  });

  const dialog = (
    <LookupDialog
      open={starting}
      onClose={() => setStarting(false)}
      onStarted={(id) => setParams({ lookup: String(id) })}
    />
  );
  const head = (
    <div className="flex min-h-[50px] shrink-0 items-center gap-2 border-b border-line bg-paper px-3.5 py-2">
      <Button kind="quiet" aria-label="Back to the steps" onClick={() => void navigate('/clean')}>
        <ArrowLeft size={15} />
      </Button>
      <h1 className="heading min-w-0 truncate text-[17px]">{current ? current.name : 'Catalogue'}</h1>
      {current && (
        <span className="shrink-0 text-small text-dim">
          {STATE_WORDS[current.state]}
          {current.reason ? `: ${current.reason}` : ''}
        </span>
      )}
      <span className="flex-1" />
      <Button onClick={() => setStarting(true)} disabled={catalogue?.there === false}>
        Look up…
      </Button>
    </div>
  );
  if (error) return <Trouble error={error} />;
  if (catalogue && (catalogue.latest === null || !catalogue.there) && !lookup) {
    return (
      <div className="flex h-full flex-col bg-sheet">
        {head}
        {catalogue.there ? (
          <Empty title="Nothing has been looked up yet">
            <p>Tracks are compared with the catalogue album by album. Nothing changes until you take it.</p>
            <Button kind="main" className="mt-3" onClick={() => setStarting(true)}>
              Look up…
            </Button>
          </Empty>
        ) : (
          <Empty title="No catalogue is set up">
            <p>
              The demo brings one along (<code className="figures">npm run demo</code>). Otherwise start the stand-in
              and name its address in <code className="figures">EARLY_SET_CATALOGUE_URL</code>.
            </p>
          </Empty>
        )}
        {dialog}
      </div>
    );
  }
  if (!lookup)
    return (
      <div aria-busy="true" className="h-full bg-sheet">
        {head}
      </div>
    );
  return (
    <StageLayout
      stage="catalogue"
      middleMin={440}
      left={{
        what: 'groups',
        width: 262,
        min: 200,
        max: 420,
        content: (
          <GroupList
            lookup={lookup}
            run={runs?.find((r) => r.id === lookup.runId)}
            only={only}
            onOnly={setOnly}
            groups={shown}
            chosen={groupId}
            onChoose={choose}
            onAgain={() => void perform(post(`/runs/${lookup.runId}/retry`))}
            onTakeSure={() => setTakingAll(true)}
          />
        ),
      }}
      right={{
        what: 'inspector',
        width: 280,
        min: 230,
        max: 460,
        content: current ? (
          <ReleaseInspector
            group={current}
            candidate={candidate}
            policies={policies}
            onPolicies={keep}
            inHand={inHand}
            onTake={() => void take([current.id])}
            onSkip={skip}
            busy={busy}
          />
        ) : (
          <div className="h-full bg-paper" />
        ),
      }}
    >
      <div className="flex h-full flex-col">
        {head}
        {current ? (
          <ReleaseMatch
            group={current}
            onChoose={(chosen) => alter({ chosen })}
            onLines={(lines) => alter({ lines })}
            onSearch={(query) => alter({ query })}
            inHand={inHand}
            onInHand={setInHand}
          />
        ) : (
          <div aria-busy="true" className="flex-1 bg-sheet" />
        )}
      </div>
      {dialog}
      <TakeAll
        lookup={lookup}
        policies={policies}
        open={takingAll}
        onClose={() => setTakingAll(false)}
        onTake={() => void take(null)}
      />
    </StageLayout>
  );
}
