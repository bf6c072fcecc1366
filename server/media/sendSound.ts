/** A file sent so that a browser plays it: as it is where it can, else as WAV. */
import type { Request, Response } from 'express';
import { stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { Problem } from '../base/problem.ts';
import { playsDirectly, sendAsWav } from './audition.ts';

const TYPES: Record<string, string> = {
  MP3: 'audio/mpeg',
  FLAC: 'audio/flac',
  Ogg: 'audio/ogg',
  Opus: 'audio/ogg',
  M4A: 'audio/mp4',
  WAV: 'audio/wav',
};

/** @throws Problem for what cannot be played */
export async function sendSound(
  path: string,
  file: { format: string | null; codec: string | null; durationSeconds: number | null },
  request: Request,
  response: Response,
): Promise<void> {
  if ((await stat(path).catch(() => null))?.isFile() === false)
    throw new Problem(415, 'not-playable', `${basename(path)} is no ordinary file`);
  if (!playsDirectly(file.format, file.codec)) {
    if (file.durationSeconds === null) throw new Problem(415, 'not-playable', `${basename(path)} cannot be played`);
    sendAsWav(path, file.durationSeconds, request, response);
    return;
  }
  await new Promise<void>((resolve, reject) => {
    response.sendFile(
      path,
      {
        acceptRanges: true,
        cacheControl: false,
        dotfiles: 'allow',
        headers: { 'Content-Type': TYPES[file.format!]! },
      },
      (error) => {
        // A listener that skips on breaks the connection; that is no failure.
        if (error && !response.headersSent)
          reject(new Problem(404, 'file-not-found', `${basename(path)} could not be opened`));
        else resolve();
      },
    );
  });
}
