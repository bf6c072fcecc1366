/** What quarantine is, and whether it is emptied by age. */
import { useDeskSetting } from '../../../data/deskSetting.ts';
import { SavedInput } from '../../../ui/form/SavedInput.tsx';

const DEFAULT_DAYS = 90,
  MAX_DAYS = 3650;

export function QuarantinePanel() {
  const [days, setDays] = useDeskSetting('quarantineDays');
  return (
    <aside aria-label="About quarantine" className="flex h-full flex-col gap-4 overflow-y-auto bg-paper p-3.5">
      <section>
        <h2 className="heading text-[17px]">About quarantine</h2>
        <p className="mt-1 text-small text-dim">
          A hidden folder in each library folder, which scans leave alone. Restored files go back to where they were;
          where another file lies there by now, beside it with a number.
        </p>
      </section>
      <section aria-label="By age" className="flex flex-col gap-1.5">
        <h3 className="text-small font-semibold text-dim">By age</h3>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={days !== null}
            onChange={(e) => setDays(e.target.checked ? DEFAULT_DAYS : null)}
            className="accent-ink"
          />
          Delete what is older, without asking
        </label>
        {days !== null && (
          <div className="flex items-center gap-2">
            <span className="flex-1">Days in quarantine</span>
            <SavedInput
              label="Days in quarantine"
              value={days}
              text={String}
              read={(text) => {
                const n = Number(text);
                return Number.isInteger(n) && n >= 1 && n <= MAX_DAYS ? n : undefined;
              }}
              onSave={(n) => n !== null && setDays(n)}
            />
          </div>
        )}
        <p className="text-small text-dim">
          {days === null ? 'Off: files stay until you delete them.' : 'Deleted files cannot be brought back.'}
        </p>
      </section>
    </aside>
  );
}
