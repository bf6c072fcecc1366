/** Adding a date, or changing one. */
import type { DateInfo, DateLine } from '@early-set/core/api/types';
import { dateSchema } from '@early-set/core/api/wishes';
import { localDay } from '@early-set/core/clock/clock';
import { perform, several } from '../../data/actions.ts';
import { patch, post } from '../../data/api.ts';
import { useLists } from '../../data/hooks.ts';
import { Dialog } from '../../ui/Dialog.tsx';
import { CheckList, FormEnd, SelectField, TextField } from '../../ui/form/fields.tsx';
import { useForm } from '../../ui/form/useForm.ts';

const KINDS = [
  ['gig', 'Gig'],
  ['show', 'Show'],
] as const;
/** What the tracks of a date have to be, unless somebody says otherwise. */
const ASKS: Record<string, DateInfo['asks']> = { gig: 'floor', show: 'playout' };
const READY = [
  ['floor', 'ready for the floor'],
  ['playout', 'ready for playout'],
] as const;
const DAY_MS = 86_400_000;

const fresh = (): DateInfo => ({
  name: '',
  kind: 'gig',
  day: localDay(new Date(Date.now() + DAY_MS)),
  startsAt: null,
  asks: 'floor',
  listIds: [],
});
const infoOf = ({ name, kind, day, startsAt, asks, listIds }: DateLine): DateInfo => ({
  name,
  kind,
  day,
  startsAt,
  asks,
  listIds,
});

export function DateDialog({ date, onClose }: { date: DateLine | null; onClose: () => void }) {
  const { data: lists = [] } = useLists();
  const { control, handleSubmit, setValue, formState } = useForm<DateInfo>(dateSchema, date ? infoOf(date) : fresh());
  const there = lists.filter((l) => l.kind !== 'clock' && !l.removed);
  const save = async (info: DateInfo): Promise<void> => {
    // Lists that have gone meanwhile are left out.
    const wish = { ...info, listIds: info.listIds.filter((id) => there.some((l) => l.id === id)) };
    const kept = await perform(
      date ? patch(`/dates/${date.id}`, wish) : post('/dates', wish),
      date ? 'The date is changed' : `“${wish.name}” stands under Today`,
    );
    if (kept) onClose();
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title={date ? 'Change the date' : 'Add a date'}
      note="How ready the tracks of its lists are is counted anew all the time."
    >
      <form className="flex flex-col gap-3" onSubmit={(e) => void handleSubmit(save)(e)}>
        <TextField control={control} name="name" label="Name" placeholder="Slipway, Skerry Foreshore at seven…" />
        <div className="grid grid-cols-3 gap-3">
          <SelectField
            control={control}
            name="kind"
            label="What"
            choices={KINDS}
            onChosen={(kind) => setValue('asks', ASKS[kind]!)}
          />
          <TextField control={control} name="day" label="Day" type="date" />
          <TextField control={control} name="startsAt" label="Begins" type="time" orNull />
        </div>
        <SelectField control={control} name="asks" label="Its tracks have to be" choices={READY} />
        <fieldset>
          <legend className="mb-0.5 text-small text-dim">Crates, playlists and hours</legend>
          {there.length === 0 ? (
            <p className="border border-line bg-sheet px-2 py-1.5 text-small text-dim">
              There are none yet: make some under Arrange, and choose them here later.
            </p>
          ) : (
            <CheckList
              control={control}
              name="listIds"
              choices={there.map((l) => ({
                value: l.id,
                label: l.name,
                aside: `${l.kind}, ${several(l.tracks, 'track')}`,
              }))}
              className="max-h-[180px] overflow-y-auto border border-line bg-sheet"
              lineClassName="flex items-center gap-2 border-b border-hair px-2 py-1 last:border-0 hover:bg-paper"
            />
          )}
        </fieldset>
        <FormEnd onCancel={onClose} send={date ? 'Save changes' : 'Add the date'} disabled={formState.isSubmitting} />
      </form>
    </Dialog>
  );
}
