/** A stick: what will be on it, how it is laid out, and the draft that writes it. */
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import type { StickAnswer, StickLine, StickSettings, StickVerified } from '@early-set/core/api/stick';
import type { Applied, RunProgress } from '@early-set/core/api/types';
import { StageLayout } from '../../../app/StageLayout.tsx';
import { change, complain, perform } from '../../../data/actions.ts';
import { patch, post, remove } from '../../../data/api.ts';
import { useDestinations, useRuns } from '../../../data/hooks.ts';
import { usePlayers, useStick, useStickStep, useSticks } from '../../../data/sticks.ts';
import { Button } from '../../../ui/Button.tsx';
import { Empty, Trouble } from '../../../ui/Empty.tsx';
import { bytes } from '../../../ui/format.ts';
import { Dialog } from '../../../ui/Dialog.tsx';
import { AddDestination } from '../AddDestination.tsx';
import { Destinations } from '../Destinations.tsx';
import { LaidOut } from './LaidOut.tsx';
import { StickFiles } from './StickFiles.tsx';
import { PlayoutRules } from './PlayoutRules.tsx';
import { TellDialog } from './TellDialog.tsx';
import { toldOf, verifiedText, type Told } from './told.ts';
import { WhatDialog } from './WhatDialog.tsx';
import type { WriteDraftProps } from './WriteDraft.tsx';

export function StickView() {
  const id = Number(useParams().stickId);
  const navigate = useNavigate();
  const { data: programs } = useDestinations();
  const { data: all, error, mutate: tell } = useSticks();
  const { data: players } = usePlayers();
  const [listId, setListId] = useState<string | null>(null);
  const [dialog, setDialog] = useState<'add' | 'what' | 'remove' | null>(null);
  const [told, setTold] = useState<Told | null>(null);
  const [verified, setVerified] = useState<StickVerified | null>(null);
  const [verifying, setVerifying] = useState<AbortController | null>(null);
  const stick = all?.find((s) => s.id === id);
  const looked = useStick(stick && !stick.trouble ? stick.id : null, listId);
  const step = useStickStep(stick && verifying ? stick.id : null);
  const writing = useWriting(stick);
  const player = players?.find((p) => p.kind === stick?.player);
  // While another one is looked at, what is known of the former is not shown for it.
  const answer = looked.data?.stickId === stick?.id ? looked.data : undefined;
  if (error) return <Trouble error={error} />;
  const keep = (settings: Partial<StickSettings>): void => {
    // Shown at once: what is set next builds on it.
    const known = all?.map((s) => (s.id === id ? { ...s, settings: { ...s.settings, ...settings } } : s));
    void tell(known, { revalidate: false });
    void patch(`/sticks/${id}`, { settings })
      .catch(complain)
      .then(() => Promise.all([tell(), looked.mutate()]));
  };
  const write = (): void => {
    if (!answer || writing) return;
    void change(post<Applied>(`/sticks/${id}/write`, { token: answer.token })).then(() => looked.mutate());
  };
  const verify = (): void => {
    const calledOff = new AbortController();
    setVerifying(calledOff);
    void perform(post<StickVerified>(`/sticks/${id}/verify`, {}, calledOff.signal))
      .then((found) => found && setVerified(found))
      .finally(() => setVerifying(null));
  };
  const takeOff = (): void =>
    void perform(remove(`/sticks/${id}`), 'Removed; its files stay').then(() => navigate('/handover'));
  const drafting = (of: StickLine): WriteDraftProps => ({
    ...{ stick: of, answer, writing, busy: writing !== undefined || verifying !== null },
    onCancel: () => writing && void perform(post(`/runs/${writing.id}/cancel`)),
    onWrite: write,
    onFormer: () => void change(post<Applied>(`/sticks/${id}/former`)),
    onLook: setTold,
  });
  return (
    <StageLayout
      stage="handover"
      middleMin={460}
      left={{
        what: 'list on the left',
        width: 200,
        min: 160,
        max: 340,
        content: (
          <Destinations
            all={programs ?? []}
            sticks={all ?? []}
            current={`stick/${id}`}
            onAdd={() => setDialog('add')}
          />
        ),
      }}
      right={{
        what: 'inspector',
        width: 268,
        min: 230,
        max: 480,
        content:
          stick && player?.playout ? (
            <PlayoutRules
              {...drafting(stick)}
              system={player.playout}
              onWhat={() => setDialog('what')}
              onReason={(reason) => setTold({ reason })}
            />
          ) : stick && player ? (
            <LaidOut {...drafting(stick)} player={player} onKeep={keep} onWhat={() => setDialog('what')} />
          ) : (
            <aside aria-label="How it is laid out" className="h-full bg-paper" />
          ),
      }}
    >
      {!all ? (
        <div aria-busy="true" className="h-full bg-sheet" />
      ) : !stick ? (
        <Empty title="It is no longer written to" main>
          <p>Choose another destination on the left.</p>
        </Empty>
      ) : (
        <div className="flex h-full flex-col bg-sheet">
          <div className="flex min-h-[50px] shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-b border-line bg-paper px-3.5 py-2">
            <h1 className="heading text-[19px]">{stick.name}</h1>
            <span className="figures text-small text-dim" data-testid="stick-where" title={stick.folder}>
              {whereText(stick, answer)}
            </span>
            {verifying && step && (
              <span role="status" className="figures text-small">
                {step.done.toLocaleString('en-GB')} of {step.total.toLocaleString('en-GB')} read back
              </span>
            )}
            <span className="flex-1" />
            <Button onClick={() => void looked.mutate()} disabled={looked.isValidating || stick.trouble !== null}>
              {looked.isValidating ? 'Looking…' : 'Refresh'}
            </Button>
            {verifying ? (
              <Button onClick={() => verifying.abort()}>Cancel</Button>
            ) : (
              <Button
                onClick={verify}
                disabled={writing !== undefined || stick.trouble !== null || stick.report === null}
              >
                Verify
              </Button>
            )}
            <Button onClick={() => setDialog('remove')} disabled={writing !== undefined}>
              Remove…
            </Button>
          </div>
          {stick.trouble ? (
            <Empty title={`${stick.name} is not ${stick.isPlayout ? 'there' : 'plugged in'}`}>
              <p>
                {stick.trouble}. {stick.isPlayout ? 'Once it is there' : 'Plugged in again'}, it is shown here with what
                would be written.
              </p>
            </Empty>
          ) : looked.error ? (
            <Trouble error={looked.error} />
          ) : answer ? (
            <StickFiles stick={stick} answer={answer} onList={setListId} onWhat={() => setDialog('what')} />
          ) : (
            <div aria-busy="true" className="h-full" />
          )}
        </div>
      )}
      <AddDestination open={dialog === 'add'} onClose={() => setDialog(null)} onAdded={(path) => void navigate(path)} />
      {stick && (
        <>
          <WhatDialog stick={stick} open={dialog === 'what'} onClose={() => setDialog(null)} onKeep={keep} />
          <Dialog
            open={dialog === 'remove'}
            onClose={() => setDialog(null)}
            title={`Remove ${stick.name} from the destinations`}
            note="All files on it stay. Which of them were written from here is forgotten: they count as files of others then, and earlier writings can no longer be undone."
          >
            <div className="flex justify-end gap-2">
              <Button onClick={() => setDialog(null)}>Cancel</Button>
              <Button kind="main" onClick={takeOff}>
                Remove
              </Button>
            </div>
          </Dialog>
          <TellDialog {...toldOf(stick, answer, told)} onClose={() => setTold(null)} />
          <TellDialog {...verifiedText(stick, verified)} onClose={() => setVerified(null)} />
        </>
      )}
    </StageLayout>
  );
}

/** The run that writes it, or is about to. */
function useWriting(stick: StickLine | undefined): RunProgress | undefined {
  const { data = [] } = useRuns();
  return data.find((r) => r.kind === 'writing' && r.state === 'running' && r.stickId === stick?.id);
}

function whereText({ playerName, folder, trouble }: StickLine, answer: StickAnswer | undefined): string {
  const { free, total } = answer?.room ?? { free: null, total: null };
  return [
    playerName,
    !trouble && answer?.fileSystem,
    !trouble && free !== null && total !== null && `${bytes(free)} of ${bytes(total)} free`,
    (trouble || !answer) && folder,
  ]
    .filter(Boolean)
    .join(', ');
}
