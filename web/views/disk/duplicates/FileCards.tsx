/** The files of one group side by side: what differs is marked, waveforms lie on each other. */
import { Play } from 'lucide-react';
import { useMemo } from 'react';
import type { Section } from '@early-set/core/analysis/structure/sections';
import { isLossless } from '@early-set/core/duplicates/facts';
import type { DuplicateFile, DuplicateGroupLine } from '@early-set/core/api/disk';
import { seek, usePlayer } from '../../../audition/player.ts';
import { Waveform } from '../../../audition/Waveform.tsx';
import { several } from '../../../data/actions.ts';
import { useWaveform } from '../../../data/hooks.ts';
import { Button } from '../../../ui/Button.tsx';
import { day, figure } from '../../../ui/format.ts';
import { clockLength } from '@early-set/core/clock/clock';
import { SECTION_FILL } from '../../sound/palette.ts';
import { hearFrom } from './hear.ts';
import type { GroupPlan } from './useSettling.ts';

interface Props {
  group: DuplicateGroupLine;
  plan: GroupPlan | null;
  onKeep: (trackId: number) => void;
}

export function FileCards({ group, plan, onKeep }: Props) {
  return (
    <div className="flex gap-2.5 overflow-x-auto pb-2">
      {group.files.map((file, i) => (
        <Card key={file.trackId} group={group} file={file} at={i} plan={plan} onKeep={() => onKeep(file.trackId)} />
      ))}
    </div>
  );
}

function Card({
  group,
  file,
  at,
  plan,
  onKeep,
}: {
  group: DuplicateGroupLine;
  file: DuplicateFile;
  at: number;
  plan: GroupPlan | null;
  onKeep: () => void;
}) {
  const stays = plan?.keep === file.trackId;
  const going = plan !== null && plan.settled && !stays;
  const said = plan === null ? 'Kept apart' : stays ? 'Stays' : going ? 'To quarantine' : 'Left as it is';
  return (
    <article
      aria-label={`${said}: ${file.path}`}
      data-file={file.trackId}
      className={`w-[250px] shrink-0 border bg-sheet ${stays ? 'border-t-[3px] border-kelp' : 'border-line'}`}
    >
      <header className="flex h-[44px] items-center gap-2.5 border-b border-hair px-2.5">
        <span className={`flex-1 font-semibold ${stays ? 'text-kelp' : going ? 'text-flare' : ''}`}>{said}</span>
        {plan && !stays && (
          <Button kind="link" aria-label={`Keep ${file.path}`} onClick={onKeep}>
            Keep
          </Button>
        )}
        <Button aria-label={`Audition ${file.path}`} onClick={() => hearFrom(group, at)}>
          <span className="figures">{at + 1}</span> <Play size={12} />
        </Button>
      </header>
      <Aligned group={group} file={file} at={at} />
      <dl className="px-2.5 pb-2">
        {FACTS.map(({ name, text, marks }) => (
          <Fact key={name} name={name} marked={marks?.(file, group.files)} title={text(file)} />
        ))}
      </dl>
    </article>
  );
}

/** Each waveform is drawn over the same stretch of time, so that what lies below each other is the same moment. */
function Aligned({ group, file, at }: { group: DuplicateGroupLine; file: DuplicateFile; at: number }) {
  const own = useWaveform(file.trackId);
  const player = usePlayer();
  const first = Math.min(...group.offsets);
  const start = group.offsets[at]! - first;
  const length = Math.max(...group.files.map((f, i) => group.offsets[i]! - first + (f.durationSeconds ?? 0)));
  const waveform = useMemo(() => {
    if (!own || length <= 0) return null;
    const data = new Uint8Array(Math.ceil(length * own.rate) * 3);
    data.set(
      own.data.subarray(0, Math.max(0, data.length - Math.round(start * own.rate) * 3)),
      Math.round(start * own.rate) * 3,
    );
    return { data, rate: own.rate };
  }, [own, length, start]);
  const isOwn = player.track?.id === file.trackId;
  return (
    <div className="px-2 py-2">
      <Sections sections={file.sections} start={start} length={length} />
      <Waveform
        waveform={waveform}
        duration={length}
        position={isOwn ? start + player.position : 0}
        height={40}
        label={`Waveform of ${file.path}`}
        onSeek={(seconds) => {
          if (!isOwn) hearFrom(group, at);
          seek(seconds - start);
        }}
      />
    </div>
  );
}

/** The sections over the waveform, in the same stretch of time. */
function Sections({ sections, start, length }: { sections: readonly Section[]; start: number; length: number }) {
  const words = sections.map((s) => `${s.label} from ${clockLength(start + s.startSeconds)}`).join(', ');
  return (
    <div className="relative mb-0.5 h-[6px]" title={words}>
      {sections.map((s) => (
        <span
          key={s.startSeconds}
          data-section={s.label}
          className={`absolute inset-y-0 border-r border-sheet ${SECTION_FILL[s.label] ?? ''}`}
          style={{
            left: `${(100 * (start + s.startSeconds)) / length}%`,
            width: `${(100 * (s.endSeconds - s.startSeconds)) / length}%`,
          }}
        />
      ))}
    </div>
  );
}

type Mark = 'better' | 'worse' | undefined;
interface FactLine {
  name: string;
  text: (file: DuplicateFile) => string;
  marks?: (file: DuplicateFile, all: readonly DuplicateFile[]) => Mark;
}

/** Marks the best and the worst where a figure tells files apart. */
const byFigure =
  (value: (file: DuplicateFile) => number | null, least: number) =>
  (file: DuplicateFile, all: readonly DuplicateFile[]): Mark => {
    const own = value(file);
    const figures = all.flatMap((f) => value(f) ?? []);
    const [low, high] = [Math.min(...figures), Math.max(...figures)];
    if (own === null || high - low <= least) return undefined;
    return own >= high - least ? 'better' : own <= low + least ? 'worse' : undefined;
  };
const missing = '–';
const kHz = (hz: number | null): string => (hz === null ? missing : `${(hz / 1000).toFixed(1)} kHz`);

const FACTS: readonly FactLine[] = [
  {
    name: 'Format',
    text: (f) =>
      [f.format, isLossless(f) ? kHz(f.sampleRate) : f.bitrate && `${Math.round(f.bitrate)} kbit/s`]
        .filter(Boolean)
        .join(', '),
    marks: byFigure((f) => (isLossless(f) ? 10_000 : f.bitrate), 10),
  },
  {
    name: 'Bandwidth',
    text: (f) => kHz(f.bandwidthHz) + (f.soundsReencoded ? ', re-encoded' : ''),
    marks: byFigure((f) => (f.bandwidthHz === null ? null : f.bandwidthHz - (f.soundsReencoded ? 1e5 : 0)), 700),
  },
  {
    name: 'Length',
    text: (f) => (f.durationSeconds === null ? missing : clockLength(f.durationSeconds)),
    marks: byFigure((f) => f.durationSeconds, 0.5),
  },
  { name: 'Loudness', text: (f) => (f.lufs === null ? missing : `${figure(f.lufs, 1)} LUFS`) },
  {
    name: 'Tags',
    text: (f) =>
      f.lacks.length === 0
        ? 'all there'
        : `no ${f.lacks.slice(0, 3).join(', ').toLowerCase()}${f.lacks.length > 3 ? ` and ${f.lacks.length - 3} more` : ''}`,
    marks: byFigure((f) => -f.lacks.length, 0),
  },
  { name: 'Cues', text: (f) => (f.cues ? several(f.cues, 'cue') : 'none'), marks: byFigure((f) => f.cues, 0) },
  { name: 'Lists', text: (f) => f.lists.join(', ') || 'none' },
  { name: 'Folder', text: (f) => (f.folder ? `${f.root}: ${f.folder}` : f.root) },
  { name: 'File', text: (f) => f.path.split('/').at(-1)! },
  { name: 'Added', text: (f) => day(f.addedAt) },
];

const Fact = ({ name, marked, title }: { name: string; marked: Mark; title: string }) => (
  <div className="flex gap-2 border-b border-hair py-[3px] last:border-0">
    <dt className="w-[74px] shrink-0 text-dim">{name}</dt>
    <dd
      title={title}
      className={`min-w-0 truncate ${marked === 'better' ? 'font-semibold text-kelp' : marked === 'worse' ? 'text-sodium-text' : ''}`}
    >
      {title}
    </dd>
  </div>
);
