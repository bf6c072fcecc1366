/** Chosen tracks converted into a folder: which one, which format. What comes of it is shown before it is written. */
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { DEFAULT_STICK } from '@early-set/core/api/stick';
import type { Selection } from '@early-set/core/api/types';
import { TARGET_IDS, TARGETS, type Target } from '@early-set/core/stick/player';
import { perform } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { Button } from '../../../ui/Button.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';
import { FolderBrowser, useFolder } from '../../intake/FolderBrowser.tsx';
import { Choice } from '../Choice.tsx';

interface Props {
  /** Null: closed. */
  selection: Selection | null;
  /** What is converted: "5 tracks". */
  whose: string;
  onClose: () => void;
}

/** The best of each that the format offers. */
const bestOf = (format: Target): number => Math.max(...TARGETS[format].kbps, 0) || DEFAULT_STICK.convert.kbps;

export function ConvertDialog({ selection, whose, onClose }: Props) {
  const navigate = useNavigate();
  const [path, setPath] = useState<string | null>(null);
  const [format, setFormat] = useState<Target>('mp3');
  const [kbps, setKbps] = useState(bestOf('mp3'));
  const folder = useFolder(selection !== null, path);
  const rates = TARGETS[format].kbps;
  const go = (): void => {
    const settings = {
      names: '{% if artist %}{{ artist }} - {% endif %}{{ title }}',
      convert: { ...DEFAULT_STICK.convert, when: 'always', format, kbps },
      m3u8: false,
    };
    void perform(post<{ id: number }>('/sticks', { folder: folder.here, player: 'folder', settings, selection })).then(
      (made) => made && navigate(`/handover/stick/${made.id}`),
    );
  };
  return (
    <Dialog
      open={selection !== null}
      onClose={onClose}
      title="Convert into a folder"
      note={`${whose}, with tags and covers. The files themselves stay as they are. Choose a folder without music of yours.`}
      wide
    >
      <div className="mb-2 flex flex-wrap gap-3">
        <Choice
          label="To"
          value={format}
          choices={TARGET_IDS.map((id) => [id, TARGETS[id].label] as const)}
          onChoose={(to) => {
            setFormat(to);
            setKbps(bestOf(to));
          }}
        />
        {rates.length > 0 && (
          <Choice
            label="Quality"
            value={String(kbps)}
            choices={rates.map((rate) => [String(rate), `${rate} kbit/s`] as const)}
            onChoose={(rate) => setKbps(Number(rate))}
          />
        )}
      </div>
      <FolderBrowser {...folder} onPath={setPath} />
      <div className="mt-3 flex justify-end gap-3">
        <Button onClick={onClose}>Cancel</Button>
        <Button kind="main" disabled={!folder.folder} onClick={go}>
          Show what it would do
        </Button>
      </div>
    </Dialog>
  );
}
