/** An hour along its time: what is spoken, tracks, open slots; a click leads to the line. */
import { timeOnAir } from '@early-set/core/hours/words';
import type { HourContents, HourLine } from '@early-set/core/api/hours';
import { clockLength } from '@early-set/core/clock/clock';

const BLOCKS: Record<HourLine['kind'], string> = {
  spoken: 'top-1.5 h-[46px] bg-inverse',
  link: 'top-[30px] h-[22px] bg-sodium',
  jingle: 'top-[30px] h-[22px] bg-sodium',
  track: 'top-3.5 h-[30px] bg-tide-deep',
  open: 'top-3.5 h-[30px] border border-dashed border-flare bg-paper',
  note: 'hidden',
};
const TICK = 600;

interface Props {
  hour: HourContents;
  inHand: number | null;
  onChoose: (index: number) => void;
}

export function HourStrip({ hour, inHand, onChoose }: Props) {
  const begins = hour.info.onAirAt!;
  // What runs over is in sight too.
  const all = Math.max(hour.seconds, hour.seconds + hour.off);
  const share = (seconds: number): string => `${(seconds / all) * 100}%`;
  const ticks = Array.from({ length: Math.floor(hour.seconds / TICK) + 1 }, (_, i) => i * TICK);
  return (
    <div className="shrink-0 border-b border-line bg-paper px-4 py-2">
      <div className="relative h-[58px]" role="img" aria-label={`${hour.info.name} along its time`}>
        {ticks.map((at) => (
          <span key={at} className="absolute inset-y-0 w-px bg-line" style={{ left: share(at) }} />
        ))}
        {hour.lines.map((line, i) => (
          <span
            key={line.entryId}
            title={`${timeOnAir(line.at)} ${line.name}, ${clockLength(line.seconds)}`}
            onClick={() => onChoose(i)}
            className={`absolute ${BLOCKS[line.kind]} ${inHand === i ? 'bg-buoy!' : ''}`}
            style={{ left: share(line.at - begins), width: `calc(${share(line.seconds)} - 2px)` }}
          />
        ))}
        <span className="absolute inset-y-0 w-0.5 bg-flare" style={{ left: share(hour.seconds) }} />
      </div>
      <div className="relative h-4" aria-hidden>
        {ticks.map((at, i) => (
          <span
            key={at}
            className={`figures absolute text-tiny text-dim ${i === 0 ? '' : i === ticks.length - 1 ? '-translate-x-full' : '-translate-x-1/2'}`}
            style={{ left: share(at) }}
          >
            {timeOnAir(begins + at).slice(0, 5)}
          </span>
        ))}
      </div>
    </div>
  );
}
