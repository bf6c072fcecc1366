/** Tags: speed of small edits, what is kept of everything a file holds, a long WAV; mutagen (Debian) beside it. */
import { spawnSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeTags } from '../server/files/tagFile.ts';
import { table } from './table.ts';
import { asMetadata, synthesize } from '../server/testing/ffmpeg.ts';

const PYTHON = '/usr/bin/python3';
const folder = mkdtempSync(join(tmpdir(), 'early-set-tags-'));
const run = (program: string, args: string[]): string => {
  const done = spawnSync(program, args, { encoding: 'utf8', maxBuffer: 1 << 26 });
  if (done.status !== 0) throw new Error(`${program}: ${done.stderr}`);
  return done.stdout;
};

/**
 * Adds what collections hold beside names: private and object frames, chapters, languages, ratings, pictures, unknown
 * keys.
 */
const ENRICH = `
import sys, base64, mutagen
from mutagen.id3 import PRIV, GEOB, CHAP, COMM, USLT, TXXX, UFID, POPM, APIC, TIT2, WXXX, CTOC, CTOCFlags
from mutagen.flac import Picture, FLAC
from mutagen.mp4 import MP4, MP4FreeForm, MP4Cover
f = mutagen.File(sys.argv[1])
if f.tags is None: f.add_tags()
t = f.tags
if hasattr(t, "getall"):
    for x in (PRIV(owner="a", data=b"\\xff\\xe0\\x00\\xff"), GEOB(encoding=0, mime="x/y", filename="n", desc="d", data=b"\\x00" * 50), CHAP(element_id="c1", start_time=0, end_time=900, sub_frames=[TIT2(encoding=3, text=["One"])]), CTOC(element_id="toc", flags=CTOCFlags.TOP_LEVEL, child_element_ids=["c1"]), COMM(encoding=3, lang="deu", desc="Notiz", text=["auf deutsch"]), USLT(encoding=3, lang="eng", desc="", text="la la"), TXXX(encoding=3, desc="Own Key", text=["kept"]), UFID(owner="u", data=b"123"), POPM(email="p", rating=196, count=7), APIC(encoding=0, mime="image/png", type=4, desc="back", data=b"PNGback"), WXXX(encoding=0, desc="w", url="a:b")): t.add(x)
    f.save(v2_version=int(sys.argv[2]))
else:
    if isinstance(f, MP4):
        t["----:own:Own Key"] = [MP4FreeForm(b"kept")]
        t["covr"] = [MP4Cover(b"\\x89PNGone", 14), MP4Cover(b"two", 13)]
        t["rtng"] = [2]
    else:
        t["Own Key"] = ["kept", "twice"]
        t["LYRICS"] = "la la"
    if isinstance(f, FLAC):
        p = Picture(); p.type = 4; p.mime = "image/png"; p.data = b"PNGback"; f.add_picture(p)
    f.save()
`;
/** Every item but the title, as text to compare. */
const ITEMS = `
import sys, json, mutagen
f = mutagen.File(sys.argv[1])
out = {str(k): repr(v) for k, v in f.tags.items()} if hasattr(f.tags, "items") else {}
for k in ("TIT2", "title", "TITLE", "\\xa9nam"): out.pop(k, None)
if hasattr(f, "pictures"): out["pictures"] = repr([(p.type, p.data) for p in f.pictures])
print(json.dumps(out))
`;
const EDIT = `
import sys, time, mutagen
from mutagen.id3 import TIT2
paths = sys.argv[2:]
t0 = time.time()
for i, p in enumerate(paths):
    f = mutagen.File(p)
    if hasattr(f.tags, "getall"):
        f.tags.setall("TIT2", [TIT2(encoding=3, text=["Title %d" % i])]); f.save(v2_version=int(sys.argv[1]))
    else:
        f.tags["\\xa9nam" if type(f).__name__ == "MP4" else "title"] = "Title %d" % i; f.save()
print(len(paths) / (time.time() - t0))
`;

const KINDS: [name: string, file: string, version: string, args: string[]][] = [
  ['MP3, ID3v2.3', 'a3.mp3', '3', ['-id3v2_version', '3']],
  ['MP3, ID3v2.4', 'a4.mp3', '4', []],
  ['FLAC', 'a.flac', '4', []],
  ['Ogg Vorbis', 'a.ogg', '4', ['-c:a', 'libvorbis']],
  ['Opus', 'a.opus', '4', ['-c:a', 'libopus']],
  ['M4A, index first', 'first.m4a', '4', ['-movflags', '+faststart']],
  ['M4A, index last', 'last.m4a', '4', []],
  ['WAV', 'a.wav', '4', []],
  ['AIFF', 'a.aiff', '4', ['-write_id3v2', '1']],
];
const COUNT = 200;

const perSecond = (paths: string[], edit: (path: string, i: number) => void): string => {
  const began = performance.now();
  paths.forEach(edit);
  return ((1000 * paths.length) / (performance.now() - began)).toFixed(0);
};
const items = (path: string): Record<string, string> =>
  JSON.parse(run(PYTHON, ['-c', ITEMS, path])) as Record<string, string>;
const kept = (before: Record<string, string>, path: string): string => {
  const after = items(path),
    names = Object.keys(before);
  return `${names.filter((n) => before[n] === after[n]).length} of ${names.length}`;
};

try {
  const rows = KINDS.map(([name, file, version, args]) => {
    const source = join(folder, file);
    const tags = { title: 'Old', artist: 'Someone', date: '2011' };
    synthesize(source, 'sine=frequency=330:duration=30:sample_rate=44100', '-ac', '2', ...asMetadata(tags), ...args);
    run(PYTHON, ['-c', ENRICH, source, version]);
    const before = items(source);
    const paths = Array.from({ length: COUNT }, (_, i) => join(folder, `${i}-${file}`));
    for (const path of paths) copyFileSync(source, path);
    const first = perSecond(paths, (path, i) => {
      writeTags(path, { fields: { title: [`A title that is longer than the one before, number ${i}`] } });
    });
    const own = kept(before, paths[0]!);
    const places = paths.map(
      (path, i) => writeTags(path, { fields: { title: [`Again ${i}`] } }, { dryRun: true }).inPlace,
    );
    const second = perSecond(paths, (path, i) => {
      writeTags(path, { fields: { title: [`Again ${i}`] } });
    });
    for (const path of paths) copyFileSync(source, path);
    const theirs = Number(run(PYTHON, ['-c', EDIT, version, ...paths])).toFixed(0);
    const others = kept(before, paths[0]!);
    for (const path of paths) rmSync(path);
    return [name, first, second, places.every(Boolean) ? 'yes' : 'no', theirs, own, others];
  });
  console.log(
    `${COUNT} files of 30 s each, one title changed; ours waits for the disk after every file (fsync), mutagen does not\n`,
  );
  table(
    [
      'container',
      'first edit, files/s',
      'second, files/s',
      'second in place',
      'mutagen, files/s',
      'other items kept',
      'by mutagen',
    ],
    rows,
  );

  const long = join(folder, 'long.wav');
  synthesize(long, 'anullsrc=r=44100:cl=stereo', '-t', '6100', ...asMetadata({ title: 'Old' }));
  const began = performance.now();
  let top = process.memoryUsage().rss;
  const rest = top;
  writeTags(long, { fields: { title: ['A title that is longer than the one before'], artist: ['Someone'] } });
  top = Math.max(top, process.memoryUsage().rss, process.resourceUsage().maxRSS * 1024);
  const mb = (bytes: number): string => `${(bytes / 1e6).toFixed(0)} MB`;
  table(
    ['a long WAV', 'seconds', 'memory before', 'most'],
    [[mb(statSync(long).size), ((performance.now() - began) / 1000).toFixed(1), mb(rest), mb(top)]],
  );
} finally {
  rmSync(folder, { recursive: true, force: true });
}
