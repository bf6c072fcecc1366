import { describe, expect, test } from '@jest/globals';
import sharp from 'sharp';
import { openRaster, rasterKind, readThrough, workOnPicture } from './raster.ts';

const made = (format: 'jpeg' | 'png' | 'webp' | 'gif', side = 40): Promise<Buffer> =>
  sharp({ create: { width: side, height: side, channels: 3, background: '#357' } })
    .toFormat(format)
    .toBuffer();
const read = (data: Uint8Array): Promise<number | null> =>
  workOnPicture(data, async (picture) => {
    await readThrough(picture);
    return (await picture.metadata()).width;
  });

describe('pictures from outside', () => {
  test.each(['jpeg', 'png', 'webp', 'gif'] as const)('%s is taken for what it is', async (format) => {
    const data = await made(format);
    expect(rasterKind(data)).toBe(format);
    expect(await read(data)).toBe(40);
  });

  test('a drawing is not even opened, whatever work it holds', async () => {
    const nested = ['<g id="a0"><rect width="1" height="1"/></g>'];
    for (let i = 1; i < 24; i++) nested.push(`<g id="a${i}">${`<use href="#a${i - 1}"/>`.repeat(8)}</g>`);
    const svg = Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><defs>${nested.join('')}</defs><use href="#a23"/></svg>`,
    );
    expect(openRaster(svg)).toBeNull();
    expect(await read(svg)).toBeNull();
    expect(openRaster(Buffer.from('%PDF-1.7'))).toBeNull();
    expect(openRaster(new Uint8Array(0))).toBeNull();
  });

  test('one that ends early is refused, also the second time', async () => {
    const whole = await sharp(
      Buffer.alloc(300 * 300 * 3, 1).map((_, i) => (i * 7919) % 251),
      {
        raw: { width: 300, height: 300, channels: 3 },
      },
    )
      .jpeg()
      .toBuffer();
    const half = whole.subarray(0, whole.length / 2);
    expect(await read(half)).toBeNull();
    expect(await read(half)).toBeNull();
    expect(await read(whole)).toBe(300);
  });

  test('more pixels than can be worked on are refused by what the header says', async () => {
    const header = Buffer.from(await made('png', 8));
    header.writeUInt32BE(60_000, 16);
    header.writeUInt32BE(60_000, 20);
    expect(await read(header)).toBeNull();
  });

  test('one at a time', async () => {
    let open = 0,
      most = 0;
    const data = await made('png');
    await Promise.all(
      Array.from({ length: 5 }, () =>
        workOnPicture(data, async (picture) => {
          most = Math.max(most, ++open);
          await picture.metadata();
          open--;
        }),
      ),
    );
    expect(most).toBe(1);
  });
});
