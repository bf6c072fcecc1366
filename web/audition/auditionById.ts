import type { TrackDetails } from '@early-set/core/api/types';
import { complain } from '../data/actions.ts';
import { get } from '../data/api.ts';
import { toggleAudition } from './player.ts';

/** Plays a track that is known by its id. */
export const auditionById = (trackId: number): void =>
  void get<TrackDetails>(`/tracks/${trackId}`).then(toggleAudition, complain);
