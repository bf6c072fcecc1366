/** What the thread that compares asks of the server, which alone knows the library, and how they talk. */
import type { ComparisonAnswer, Waiting } from '@early-set/core/api/handover';
import type { Origins } from '@early-set/core/changes/snapshot';
import type { Here, HereChanges } from '@early-set/core/sync/compare';
import type { Choices } from '@early-set/core/sync/compareTracks';
import type { SyncStep } from '@early-set/core/api/handover';
import type { MessagePort } from 'node:worker_threads';
import type { KeptDestination } from './destinations.ts';
import type { SomeTracks } from './library.ts';
import type { TakenTie } from './ties.ts';

/** Questions with their answers. */
export interface Questions {
  /** The first tracks, or the next ones; none behind the last. */
  tracks: { asks: { first: boolean }; told: SomeTracks | null };
  lists: { asks: object; told: Pick<Here, 'lists'> & { others: string[] } };
  ties: { asks: object; told: TakenTie[] };
  /** What tracks say. */
  values: { asks: { ids: number[]; which: 'values' | 'names' }; told: string[] };
  /** Tracks that have one of these sounds. */
  sounds: { asks: { sounds: string[] }; told: [sound: string, trackIds: number[]][] };
  origins: { asks: { ids: number[] }; told: { id: number; origins: Origins }[] };
  /** What is to be done here is put into words of a draft; the ids of new lists here by their ids there. */
  draft: { asks: { here: HereChanges }; told: [otherId: string, listId: string][] };
  /** Pictures are laid where the destination finds them; those that could not be are told. */
  covers: { asks: { hashes: string[] }; told: string[] };
  /** How far it is. */
  step: { asks: SyncStep; told: null };
}
export type Question = keyof Questions;
/** Answers each question. */
export type Answers = { [Q in Question]: (asks: Questions[Q]['asks']) => Promise<Questions[Q]['told']> };

export interface LookWish {
  destination: KeptDestination;
  /** Where early states are kept. */
  dataFolder: string;
  choices: Choices;
  /** Both sides are made alike, where they are still as this token says; null: they are compared only. */
  apply: { token: string; at: string } | null;
}

/** What a thread has found: a comparison, or why there is none. */
export type LookAnswer = { refused: { status: number; code: string; message: string } } | Found;

export interface Found {
  refused: null;
  comparison: Omit<ComparisonAnswer, 'destinationId'>;
  /** Of each list, how many changes wait for it to go there. */
  lists: NonNullable<Waiting['lists']>;
  /** What was kept for both sides to be made alike. */
  kept: Kept | null;
}

export interface Kept {
  /** Null: nothing is written there. */
  written: {
    before: { id: string; hash: string };
    after: { id: string; hash: string };
    /** What is done there, in words. */
    words: string;
  } | null;
  /** Tracks that are changed here, as they were when they were compared. */
  touched: { trackId: number; print: string }[];
}

/** The thread's end. */
export interface Asker {
  ask<Q extends Question>(what: Q, asks: Questions[Q]['asks']): Promise<Questions[Q]['told']>;
}

export function askerOn(port: MessagePort): Asker {
  const open = new Map<number, (told: never) => void>();
  let asked = 0;
  port.on('message', ({ number, told }: { number: number; told: never }) => {
    open.get(number)?.(told);
    open.delete(number);
  });
  return {
    ask: (what, asks) =>
      new Promise((resolve) => {
        const number = ++asked;
        open.set(number, resolve);
        port.postMessage({ number, what, asks });
      }),
  };
}

/** The server's end. @param failed told where a question cannot be answered: nobody waits for more */
export function answerOn(port: MessagePort, answers: Answers, failed: (error: unknown) => void): void {
  port.on('message', ({ number, what, asks }: { number: number; what: Question; asks: never }) => {
    answers[what](asks).then((told) => port.postMessage({ number, told }), failed);
  });
}
