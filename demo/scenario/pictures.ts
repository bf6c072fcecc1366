/** Covers, drawn by code: a horizon, a tide and a sun, in a palette of the record's own. */
import sharp from 'sharp';
import { pick, seeded } from '../synth/random.ts';

const PALETTES = [
  ['#143642', '#f25c2a', '#8fb8ad', '#e9efec'],
  ['#20343a', '#d9a441', '#5d8a86', '#f3efe4'],
  ['#4a1f2d', '#e07a5f', '#b7b7a4', '#f4f1de'],
  ['#1c2f4a', '#e4572e', '#76a5af', '#eef3f4'],
  ['#273c2c', '#e8c547', '#7d9d7f', '#f2f5ea'],
  ['#2b2d42', '#d98e73', '#8d99ae', '#edf2f4'],
] as const;

/** A square JPEG cover of `size` pixels for a seed. */
export async function drawCover(seed: number, size = 600): Promise<Buffer> {
  const random = seeded(seed);
  const [deep, hot, mid, pale] = pick(random, PALETTES);
  const sunX = 150 + random() * 300,
    sunY = 140 + random() * 160,
    sun = 50 + random() * 80;
  const shore = 300 + random() * 140,
    tilt = (random() - 0.5) * 160;
  const stripes = Array.from({ length: 2 + Math.floor(random() * 4) }, (_, i) => {
    const y = shore + 60 + i * (24 + random() * 30);
    return `<path d="M0 ${y} L600 ${y - tilt / 2}" stroke="${i % 2 ? mid : pale}" stroke-width="${4 + random() * 12}"/>`;
  }).join('');
  const masts = Array.from({ length: Math.floor(random() * 4) }, () => {
    const x = random() * 560 + 20;
    return `<rect x="${x}" y="${shore - 150 - random() * 90}" width="5" height="260" fill="${pale}"/>`;
  }).join('');
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="600" height="600"><rect width="600" height="600" fill="${deep}"/>
    <circle cx="${sunX}" cy="${sunY}" r="${sun}" fill="${hot}"/>${masts}
    <path d="M0 ${shore + tilt / 2} L600 ${shore - tilt / 2} L600 600 L0 600Z" fill="${mid}"/>
    <path d="M0 ${shore + 110} L600 ${shore + 60 - tilt / 2} L600 600 L0 600Z" fill="${random() < 0.5 ? deep : pale}"/>${stripes}</svg>`;
  return sharp(Buffer.from(svg)).resize(size, size).jpeg({ quality: 82 }).toBuffer();
}
