/** A cover for a release: bands of sea and sky, from its name. */
import { createHash } from 'node:crypto';
import sharp from 'sharp';

/** A JPEG of 600 × 600. */
export function drawPicture(name: string): Promise<Buffer> {
  const bytes = createHash('sha1').update(name).digest(),
    hue = (bytes[0]! * 360) / 256;
  const bands = Array.from(
    { length: 5 },
    (_, i) =>
      `<rect y="${260 + i * 68}" width="600" height="70" fill="hsl(${(hue + i * 9) % 360} 32% ${28 + i * 9}%)"/>`,
  ).join('');
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="600" height="600"><rect width="600" height="600" fill="hsl(${(hue + 180) % 360} 24% 82%)"/><circle cx="${120 + bytes[1]!}" cy="${90 + bytes[2]! / 3}" r="${30 + bytes[3]! / 6}" fill="hsl(${(hue + 150) % 360} 60% 62%)"/>${bands}</svg>`;
  return sharp(Buffer.from(svg)).jpeg({ quality: 86 }).toBuffer();
}
