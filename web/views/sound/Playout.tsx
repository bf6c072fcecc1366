/** What playout needs to know, and what it would do to the level. */
import type { TrackDetails } from '@early-set/core/api/types';
import { playoutGain } from '@early-set/core/analysis/loudness/playout';
import { useLoudnessTarget, DEFAULT_TARGETS } from '../../data/loudnessTarget.ts';
import { figure } from '../../ui/format.ts';

export const HEAD = 'text-small font-semibold text-dim';

export function Playout({ track }: { track: TrackDetails }) {
  const [target, setTarget] = useLoudnessTarget();
  const lufs = typeof track.values.lufs === 'number' ? track.values.lufs : null;
  const peak = typeof track.values.truePeakDbtp === 'number' ? track.values.truePeakDbtp : null;
  const usual = DEFAULT_TARGETS.some((t) => t.lufs === target.lufs);
  const line = (name: string, level: number, top: number | null) => {
    const g = playoutGain(level, top, target);
    return (
      <div key={name} className="border-b border-hair py-1 text-small">
        <div className="flex">
          <span className="w-[52px] text-dim">{name}</span>
          <span className="figures flex-1">{figure(level, 1)} LUFS</span>
          <span className="figures font-semibold">
            {g.gainDb > 0 ? '+' : ''}
            {figure(g.gainDb, 1)} dB
          </span>
        </div>
        {g.clips && (
          <p className="text-sodium-text">
            Its peaks would reach {figure(g.peakDbtp!, 1)} dBTP; {figure(g.safeGainDb, 1)} dB keeps the ceiling.
          </p>
        )}
      </div>
    );
  };
  return (
    <section aria-label="Loudness for playout">
      <h3 className={HEAD}>Loudness for playout</h3>
      <div className="mt-1 flex flex-wrap items-center gap-1.5 text-small">
        <select
          aria-label="Target"
          value={usual ? target.lufs : 'own'}
          onChange={(e) => setTarget({ ...target, lufs: e.target.value === 'own' ? -20 : Number(e.target.value) })}
          className="min-h-[26px] rounded-xs border border-line bg-paper px-1"
        >
          {DEFAULT_TARGETS.map((t) => (
            <option key={t.lufs} value={t.lufs}>
              {figure(t.lufs, 0)} LUFS, {t.where}
            </option>
          ))}
          <option value="own">custom</option>
        </select>
        {!usual && (
          <input
            type="number"
            aria-label="Custom target in LUFS"
            min={-40}
            max={-5}
            step={0.5}
            value={target.lufs}
            onChange={(e) => {
              const v = Number(e.target.value);
              if (v <= -5 && v >= -40) setTarget({ ...target, lufs: v });
            }}
            className="figures w-[62px] rounded-xs border border-line bg-sheet px-1 py-[3px]"
          />
        )}
        <label className="flex items-center gap-1">
          ceiling
          <input
            type="number"
            aria-label="Ceiling in dBTP"
            min={-9}
            max={0}
            step={0.5}
            value={target.ceilingDbtp}
            onChange={(e) => {
              const v = Number(e.target.value);
              if (v <= 0 && v >= -9) setTarget({ ...target, ceilingDbtp: v });
            }}
            className="figures w-[56px] rounded-xs border border-line bg-sheet px-1 py-[3px]"
          />
        </label>
      </div>
      {lufs === null ? <p className="text-dim">Silent.</p> : line('Track', lufs, peak)}
      {track.album && track.album.tracks > 1 && line('Album', track.album.lufs, track.album.truePeakDbtp)}
    </section>
  );
}
