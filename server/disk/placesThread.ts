/** Thread in which many files are named by rules and planned, so that it holds nobody up. */
import { RuleError } from '@early-set/core/naming/naming';
import { placesOf, type Place, type PlaceWish } from '@early-set/core/naming/places';

/** The places; or why a rule cannot be used. */
export type PlacesAnswer = { places: Place[] } | { trouble: string };

export default function work(wish: PlaceWish): PlacesAnswer {
  try {
    return { places: placesOf(wish) };
  } catch (error) {
    if (error instanceof RuleError) return { trouble: error.message };
    throw error;
  }
}
