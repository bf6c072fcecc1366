/**
 * ID3v2.2 (id3.org: "ID3 tag version 2"): frames of three letters, which become frames of v2.3 when the tag is
 * changed.
 */
import { TAG_FLAG, TAG_FLAG_V22 } from './id3Flags.ts';
import { be16, be32, concat, latin1, synchsafe, TagTrouble, toLatin1, toSynchsafe, u24be } from '../bytes.ts';
import { openId3, resynchronise, type Id3Tag } from './id3.ts';

/** Three letters and their four; what is not here has no successor. */
const SUCCESSORS: Record<string, string> = Object.fromEntries(
  (
    'BUF RBUF,CNT PCNT,COM COMM,CRA AENC,EQU EQUA,ETC ETCO,GEO GEOB,IPL IPLS,MCI MCDI,MLL MLLT,PIC APIC,POP POPM,REV RVRB,RVA RVAD,SLT SYLT,STC SYTC,' +
    'TAL TALB,TBP TBPM,TCM TCOM,TCO TCON,TCP TCMP,TCR TCOP,TDA TDAT,TDY TDLY,TEN TENC,TFT TFLT,TIM TIME,TKE TKEY,TLA TLAN,TLE TLEN,TMT TMED,TOA TOPE,' +
    'TOF TOFN,TOL TOLY,TOR TORY,TOT TOAL,TP1 TPE1,TP2 TPE2,TP3 TPE3,TP4 TPE4,TPA TPOS,TPB TPUB,TRC TSRC,TRD TRDA,TRK TRCK,TS2 TSO2,TSA TSOA,TSC TSOC,' +
    'TSI TSIZ,TSP TSOP,TSS TSSE,TST TSOT,TT1 TIT1,TT2 TIT2,TT3 TIT3,TXT TEXT,TXX TXXX,TYE TYER,UFI UFID,ULT USLT,WAF WOAF,WAR WOAR,WAS WOAS,' +
    'WCM WCOM,WCP WCOP,WPB WPUB,WXX WXXX'
  )
    .split(',')
    .map((pair) => pair.split(' ') as [string, string]),
);
const HEADER = 10,
  FRAME_HEADER = 6;

/** Takes a tag of any version from 2 to 4 apart. @throws TagTrouble when it does not add up */
export function openAnyId3(bytes: Uint8Array): Id3Tag {
  if (bytes[3] !== 2) return openId3(bytes);
  const { tag, lost } = upgraded(bytes);
  const opened = openId3(tag, 3, bytes.length);
  const refuse = (): void => {
    if (lost.length)
      throw new TagTrouble(`Its ID3v2.2 tag holds "${lost.join('", "')}", for which later versions have no place`);
  };
  // One object, so that what changes in the tag shows here as well.
  return Object.create(opened, {
    label: { value: 'ID3v2.2' },
    set: {
      value: (name: string, texts: readonly string[]) => {
        refuse();
        opened.set(name, texts);
      },
    },
    setPicture: {
      value: (picture: Parameters<NonNullable<Id3Tag['setPicture']>>[0]) => {
        refuse();
        opened.setPicture!(picture);
      },
    },
  }) as Id3Tag;
}

/** The tag as one of v2.3, and the frames that cannot come along. */
function upgraded(bytes: Uint8Array): { tag: Uint8Array; lost: string[] } {
  const flags = bytes[5]!;
  if (flags & TAG_FLAG_V22.compressed)
    throw new TagTrouble('Its ID3v2.2 tag is compressed in a way that was never defined');
  const stored = bytes.subarray(HEADER, HEADER + synchsafe(bytes, 6));
  const content = flags & TAG_FLAG.unsynchronised ? resynchronise(stored) : stored;
  const frames: Uint8Array[] = [],
    lost: string[] = [];
  for (let at = 0; at + FRAME_HEADER <= content.length && content[at] !== 0;) {
    const id = latin1(content.subarray(at, at + 3)),
      end = at + FRAME_HEADER + u24be(content, at + 3);
    if (!/^[A-Z0-9]{3}$/.test(id) || end > content.length)
      throw new TagTrouble('The frames of its ID3 tag do not add up');
    const body = content.slice(at + FRAME_HEADER, end),
      successor = SUCCESSORS[id];
    if (successor) {
      const own = id === 'PIC' ? pictureBody(body) : body;
      frames.push(concat([toLatin1(successor), be32(own.length), be16(0), own]));
    } else lost.push(id);
    at = end;
  }
  const all = concat(frames);
  return { tag: concat([toLatin1('ID3'), Uint8Array.of(3, 0, 0), toSynchsafe(all.length), all]), lost };
}

/** Pictures say their format in three letters, later as a media type. */
function pictureBody(body: Uint8Array): Uint8Array {
  const format = latin1(body.subarray(1, 4)).toLowerCase();
  return concat([body.subarray(0, 1), toLatin1(`image/${format === 'jpg' ? 'jpeg' : format}\0`), body.subarray(4)]);
}
