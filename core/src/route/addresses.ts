import type { Point } from './distance';

/**
 * The postcode areas of Marrowdale, a made-up county, with the town each is named after. An organisation elsewhere says by hand where its
 * addresses are, or has a table of its own here.
 */
export const postcodeAreas: Readonly<Record<string, Point & { readonly town: string }>> = {
  ZM1: { town: 'Skellgate', latitude: 54.02, longitude: -5.31 },
  ZM2: { town: 'Penrow', latitude: 54.09, longitude: -5.18 },
  ZM3: { town: 'Dunmere', latitude: 53.93, longitude: -5.42 },
  ZM4: { town: 'Ottery Fold', latitude: 53.88, longitude: -5.22 },
  ZM5: { town: 'Brackwell', latitude: 54.14, longitude: -5.4 },
  ZM6: { town: 'Tarnside', latitude: 54.21, longitude: -5.25 },
  ZM7: { town: 'Corrieford', latitude: 53.98, longitude: -5.08 },
  ZM8: { town: 'Pellgate', latitude: 54.07, longitude: -5.52 },
  ZM9: { town: 'Yarrowby', latitude: 53.84, longitude: -5.36 },
  ZM10: { town: 'Moorend', latitude: 54.17, longitude: -5.09 },
};

/** How far the addresses of one area lie apart, in degrees. */
const spread = 0.012;
const written = /^([A-Z]{1,2}\d{1,2})\s*(?:(\d)([A-Z])([A-Z]))?$/;

/**
 * Where a postcode is: in the middle of its area, or in the ninth of it that its second part names.
 * @returns null for one that is in no table
 * @example pointOfPostcode('ZM2 5AB') // near Penrow
 */
export function pointOfPostcode(postcode: string | null): Point | null {
  const match = written.exec((postcode ?? '').trim().toUpperCase());
  const area = match ? postcodeAreas[match[1]!] : undefined;
  if (!match || area === undefined) return null;
  if (match[2] === undefined) return { latitude: area.latitude, longitude: area.longitude };
  const sector = Number(match[2]) % 9;
  const [row, column] = [Math.floor(sector / 3) - 1, (sector % 3) - 1];
  const within = (letter: string) => (letter.charCodeAt(0) - 77) / 13 / 2;
  return {
    latitude: rounded(area.latitude + (row + within(match[3]!)) * spread),
    longitude: rounded(area.longitude + (column + within(match[4]!)) * spread * 1.7),
  };
}

const rounded = (degrees: number) => Math.round(degrees * 100_000) / 100_000;

const pair = /^\s*(-?\d{1,2}(?:\.\d+)?)\s*[,; ]\s*(-?\d{1,3}(?:\.\d+)?)\s*$/;

/**
 * A place as somebody types it: a postcode, or degrees north and east.
 * @returns null when it is neither
 * @example readPoint('54.02, -5.31') // { latitude: 54.02, longitude: -5.31 }
 */
export function readPoint(text: string): Point | null {
  const match = pair.exec(text);
  if (!match) return pointOfPostcode(text);
  const [latitude, longitude] = [Number(match[1]), Number(match[2])];
  return Math.abs(latitude) <= 90 && Math.abs(longitude) <= 180 ? { latitude, longitude } : null;
}
