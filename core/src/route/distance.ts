/** A place on the earth, in degrees: north and east are positive. */
export interface Point {
  readonly latitude: number;
  readonly longitude: number;
}

/** Mean radius, in kilometres (IUGG 1980, as in Moritz, "Geodetic Reference System 1980"; from memory). */
const earthKm = 6371.0088;
const radians = (degrees: number) => (degrees * Math.PI) / 180;

/**
 * The angle between two places seen from the middle of the earth, in radians.
 * @see E. Williams, Aviation Formulary: distance between points, the form for short distances
 * @example greatCircle(losAngeles, kennedy) // 0.623585
 */
export function greatCircle(one: Point, other: Point): number {
  const [north, east] = [radians(other.latitude - one.latitude), radians(other.longitude - one.longitude)];
  const half =
    Math.sin(north / 2) ** 2 +
    Math.cos(radians(one.latitude)) * Math.cos(radians(other.latitude)) * Math.sin(east / 2) ** 2;
  return 2 * Math.asin(Math.min(1, Math.sqrt(half)));
}

/** Kilometres as the crow flies. */
export const kilometres = (one: Point, other: Point): number => greatCircle(one, other) * earthKm;

/** How roads are: by how much they are longer than the straight line, how fast one is on them, and what parking takes. */
export interface Roads {
  readonly factor: number;
  readonly kilometresAnHour: number;
  readonly parkingMinutes: number;
}

/** Country roads; common practice, no source. */
export const usualRoads: Roads = { factor: 1.3, kilometresAnHour: 50, parkingMinutes: 3 };

/**
 * Whole minutes from one place to another by car; none within the same place.
 * @example drivingMinutes(skellgate, penrow) // 24
 */
export function drivingMinutes(one: Point, other: Point, roads: Roads = usualRoads): number {
  const straight = kilometres(one, other);
  if (straight < 0.05) return 0;
  return Math.round((straight * roads.factor * 60) / roads.kilometresAnHour + roads.parkingMinutes);
}
