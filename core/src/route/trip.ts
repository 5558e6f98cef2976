import type { Stop, Trip } from './course';
import { drivingMinutes, type Point, type Roads } from './distance';

/** To and from somewhere that nobody knows the place of; common practice, no source. */
export const unknownMinutes = 15;

/** Minutes between two places; to or from one that nobody knows, some. */
export const minutesBetweenPlaces = (one: Point | null, other: Point | null, roads: Roads): number =>
  one === null || other === null ? unknownMinutes : drivingMinutes(one, other, roads);

/** A day on the road as what is known of it: where it begins and ends, and where its stops are; null where nobody knows. */
export interface Outing extends Omit<Trip, 'stops' | 'travel'> {
  readonly from: Point | null;
  readonly to: Point | null;
  readonly stops: readonly (Stop & { readonly point: Point | null })[];
  readonly roads: Roads;
}

/** Places of an outing in the order of a trip: the start, the stops, the end. */
export const placesOf = ({ from, to, stops }: Outing): readonly (Point | null)[] => [
  from,
  ...stops.map(({ point }) => point),
  to,
];

/** The same as a trip, with the minutes between all of its places. */
export function tripOf(outing: Outing): Trip {
  const { stops, roads, leavesAt, busy } = outing;
  const places = placesOf(outing);
  const travel = places.map((one, at) =>
    places.map((other, next) => (at === next ? 0 : minutesBetweenPlaces(one, other, roads))),
  );
  return { stops, travel, leavesAt, ...(busy && { busy }) };
}
