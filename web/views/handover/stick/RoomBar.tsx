/** The room on a stick: what stays, what goes off it, what comes. */
import type { StickAnswer } from '@early-set/core/api/stick';
import { several } from '../../../data/actions.ts';
import { bytes } from '../../../ui/format.ts';
import { aboutTime } from './words.ts';

export function RoomBar({ answer }: { answer: StickAnswer }) {
  const { room, bytes: moved, counts, removed, seconds } = answer;
  const used = room.total !== null && room.free !== null ? room.total - room.free : null;
  // On a large drive the pieces would be hairlines: the bar shows at least what it is about.
  const whole = room.total ?? moved.stays + moved.comes;
  const share = (n: number): string => `${whole > 0 ? Math.min(100, (100 * n) / whole) : 0}%`;
  const others = used === null ? 0 : Math.max(0, used - moved.stays - moved.goes);
  const tooLittle = room.free !== null && moved.comes > room.free + moved.goes;
  return (
    <div className="shrink-0 border-b border-line bg-sheet px-3.5 py-2.5">
      <div className="flex h-[22px] border border-line" aria-hidden="true">
        <span className="bg-hair" style={{ width: share(others) }} />
        <span className="bg-tide" style={{ width: share(moved.stays) }} />
        <span className="bg-tide-deep" style={{ width: share(moved.goes) }} />
        <span className="bg-buoy" style={{ width: share(moved.comes) }} />
      </div>
      <p className="figures mt-1.5 flex flex-wrap gap-x-4 gap-y-0.5 text-small text-dim" data-testid="stick-room">
        {others > 0 && <Key colour="bg-hair">{bytes(others)} of others</Key>}
        <Key colour="bg-tide">{bytes(moved.stays)} stays</Key>
        {moved.goes > 0 && <Key colour="bg-tide-deep">{bytes(moved.goes)} is removed or replaced</Key>}
        <Key colour="bg-buoy">
          {bytes(moved.comes)} comes, {several(counts.write, 'file')}
          {counts.converted > 0 && `, ${counts.converted.toLocaleString('en-GB')} converted`}
        </Key>
        {counts.write + removed.length > 0 && <span>{aboutTime(seconds)}</span>}
        {tooLittle && <span className="font-semibold text-flare">there is not enough room</span>}
      </p>
    </div>
  );
}

const Key = ({ colour, children }: { colour: string; children: React.ReactNode }) => (
  <span className="flex items-center gap-1.5">
    <span aria-hidden="true" className={`inline-block h-[7px] w-[7px] ${colour}`} />
    <span>{children}</span>
  </span>
);
