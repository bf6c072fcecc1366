/**
 * The cover, and what can be done with it: chosen, pasted, dropped, from the folder, from another track, exported,
 * taken out.
 */
import { useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { Applied, Selection, TrackDetails } from '@early-set/core/api/types';
import { change, complain, several } from '../../../data/actions.ts';
import { post, sendPicture } from '../../../data/api.ts';
import { useRemembered } from '../../../data/remembered.ts';
import { Button } from '../../../ui/Button.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';
import { bytes } from '../../../ui/format.ts';
import { Art } from '../../../ui/Marks.tsx';
import { useFileChooser } from '../../../ui/useFileChooser.tsx';

interface New {
  hash: string;
  words: string;
}

export function PictureButton({
  track,
  selection,
  count,
  title,
}: {
  track: TrackDetails;
  selection: Selection;
  count: number;
  title: string;
}) {
  const [open, setOpen] = useState(false);
  const [over, setOver] = useState(false);
  const [fresh, setFresh] = useState<New | null>(null);
  const show = async (made: Promise<New>): Promise<void> => {
    setOpen(true);
    try {
      setFresh(await made);
    } catch (error) {
      complain(error);
    }
  };
  const receive = (file: File): void =>
    void show(
      sendPicture(file).then((p) => ({
        hash: p.hash,
        words: `${file.name || 'pasted'}, ${p.width} × ${p.height}, ${bytes(p.bytes)}`,
      })),
    );
  return (
    <>
      <button
        type="button"
        aria-label={`Cover of ${title}: change`}
        onClick={() => {
          setFresh(null);
          setOpen(true);
        }}
        title="Choose, paste or drop a cover"
        onDragOver={(e) => {
          if (e.dataTransfer.types.includes('Files')) {
            e.preventDefault();
            setOver(true);
          }
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(e) => {
          e.preventDefault();
          setOver(false);
          const file = e.dataTransfer.files[0];
          if (file) receive(file);
        }}
        className={`size-[78px] shrink-0 ${over ? 'outline-3 outline-buoy' : ''}`}
      >
        <Art hash={track.artHash} size={78} alt={`Cover of ${title}`} />
      </button>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        title="Cover"
        note={count > 1 ? `For ${several(count, 'chosen track')}.` : title}
      >
        {open && (
          <Choice
            track={track}
            selection={count > 1 ? selection : { ids: [track.id] }}
            count={count}
            fresh={fresh}
            onReceive={receive}
            onShow={(p) => void show(p)}
            onClose={() => setOpen(false)}
          />
        )}
      </Dialog>
    </>
  );
}

interface ChoiceProps {
  track: TrackDetails;
  selection: Selection;
  count: number;
  fresh: New | null;
  onReceive: (file: File) => void;
  onShow: (made: Promise<New>) => void;
  onClose: () => void;
}

function Choice({ track, selection, count, fresh, onReceive, onShow, onClose }: ChoiceProps) {
  const { choose, input } = useFileChooser('Cover file', 'image/*', onReceive);
  const [copied, setCopied] = useRemembered<New | null>('copied-picture', null);
  const latest = useRef(onReceive);
  useEffect(() => {
    latest.current = onReceive;
  });
  useEffect(() => {
    const paste = (e: ClipboardEvent): void => {
      const image = [...(e.clipboardData?.files ?? [])].find((f) => f.type.startsWith('image/'));
      if (image) {
        e.preventDefault();
        latest.current(image);
      }
    };
    window.addEventListener('paste', paste);
    return () => window.removeEventListener('paste', paste);
  }, []);
  const set = (hash: string | null): void => {
    onClose();
    void change(post<Applied>('/pictures/set', { selection, hash }));
  };
  const many = count > 1 ? several(count, 'track') : 'this track';
  return (
    <div
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault();
        const dropped = e.dataTransfer.files[0];
        if (dropped) onReceive(dropped);
      }}
    >
      <div className="flex gap-4">
        <figure>
          <Art hash={track.artHash} size={150} alt="The cover now" />
          <figcaption className="mt-1 text-small text-dim">{track.artHash ? 'now' : 'no cover yet'}</figcaption>
        </figure>
        {fresh && (
          <figure>
            <Art hash={fresh.hash} size={150} alt="The new cover" />
            <figcaption className="mt-1 max-w-[150px] text-small break-words text-dim">{fresh.words}</figcaption>
          </figure>
        )}
      </div>
      <p className="mt-3 text-small text-dim">
        Drop a cover here, or paste one with Ctrl V. Large ones are made 1200 pixels wide at most; JPEG and PNG are kept
        as they are.
      </p>
      <div className="mt-3 flex flex-wrap gap-2">
        <Button onClick={choose}>Choose a file…</Button>
        <Button
          onClick={() =>
            onShow(
              post<{ hash: string; name: string }>('/pictures/folder', { trackId: track.id }).then((p) => ({
                hash: p.hash,
                words: `${p.name}, from the folder`,
              })),
            )
          }
        >
          From the folder
        </Button>
        {copied && <Button onClick={() => onShow(Promise.resolve(copied))}>From {copied.words}</Button>}
        {track.artHash && (
          <Button
            onClick={() => {
              setCopied({ hash: track.artHash!, words: String(track.values.title ?? 'another track') });
              onClose();
              toast('The cover is copied', { description: 'Open the cover of other tracks to paste it there' });
            }}
          >
            Copy for other tracks
          </Button>
        )}
        {track.artHash && (
          <a
            href={`/api/art/${track.artHash}/original`}
            download
            className="inline-flex min-h-[26px] items-center rounded-xs border border-line bg-paper px-2.5 py-1 text-[12.5px] font-semibold hover:border-tide-deep"
          >
            Export
          </a>
        )}
        {(track.artHash || count > 1) && <Button onClick={() => set(null)}>Remove</Button>}
      </div>
      {input}
      <div className="mt-4 flex justify-end gap-2 border-t border-hair pt-3">
        <Button onClick={onClose}>Cancel</Button>
        <Button kind="main" disabled={!fresh} onClick={() => set(fresh!.hash)}>
          Set on {many}
        </Button>
      </div>
    </div>
  );
}
