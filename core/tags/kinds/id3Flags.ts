/** Bits of ID3v2 headers, by the names of the informal standards ID3v2.2.0, 2.3.0 and 2.4.0 (structure). */

/** Of a tag. */
export const TAG_FLAG = { unsynchronised: 0x80, extendedHeader: 0x40, footer: 0x10 } as const;
/** Of a v2.2 tag, where the bit of the later extended header says something else. */
export const TAG_FLAG_V22 = { compressed: 0x40 } as const;
/** Of extended headers: what they have. */
export const EXTENDED_V23 = { checksum: 0x80 } as const;
export const EXTENDED_V24 = { update: 0x40, checksum: 0x20 } as const;
/** Of a frame: the low byte of its two. */
export const FRAME_V23 = { compressed: 0x80, encrypted: 0x40, grouped: 0x20 } as const;
export const FRAME_V24 = {
  grouped: 0x40,
  compressed: 0x08,
  encrypted: 0x04,
  unsynchronised: 0x02,
  lengthGiven: 0x01,
} as const;
