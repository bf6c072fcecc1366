/** Lines of a file, as they come; an end is LF here and nowhere else: texts may hold whatever others take for one. */
import type { Readable } from 'node:stream';

export async function* linesOf(file: Readable): AsyncGenerator<string> {
  let left = '';
  for await (const piece of file.setEncoding('utf8')) {
    const lines = (left + String(piece)).split('\n');
    left = lines.pop()!;
    yield* lines;
  }
  if (left !== '') yield left;
}

/** So many at a time. */
export async function* batchesOf(lines: AsyncIterable<string>, size: number): AsyncGenerator<string[]> {
  let batch: string[] = [];
  for await (const line of lines) {
    if (line === '') continue;
    batch.push(line);
    if (batch.length < size) continue;
    yield batch;
    batch = [];
  }
  if (batch.length > 0) yield batch;
}
