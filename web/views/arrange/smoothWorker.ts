/** Puts a set in order beside the page. */
import { costTable, type Orderable, type OrderWish } from '@early-set/core/arrange/order';
import { smooth } from '@early-set/core/arrange/smooth';

export interface SmoothRequest {
  entries: Orderable[];
  wish: OrderWish;
  /** Places whose entries stay. */
  pinned: number[];
}
export type SmoothAnswer = { share: number } | { order: number[] };

self.onmessage = ({ data: { entries, wish, pinned } }: MessageEvent<SmoothRequest>) => {
  const tell = (answer: SmoothAnswer): void => self.postMessage(answer);
  const order = smooth(costTable(entries, wish), {
    pinned: new Set(pinned),
    progress: (share) => tell({ share }),
  });
  tell({ order });
};
