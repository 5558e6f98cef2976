import type { Span } from './sums';

/** Words after "at" that are a time or a moment and no place. */
const noPlace =
  /^(?:\d{1,2}(?:[:.h]\d{2})?(?:\s*(?:am|pm|o['’]clock|uhr|h))?\b(?!\s+\p{L})|noon|midday|midnight|lunch|lunchtime|once|least|first|last|all|the\s+(?:latest|end|beginning|weekend|moment|same)|(?:his|her|their|our|my)\s+(?:convenience|request)|(?:half|quarter)\b)/iu;

/** What ends a place: how long it takes, what it is for, another sentence. */
const ends =
  /\s+(?:for\s+(?:\d|an?\s+(?:half\s+)?hour)|about\b|to\s+(?:discuss|see|show|talk|measure|look|sign)\b)|[.;!?](?:\s|$)|\s+[–—-]\s+/iu;

/**
 * The places that a line may name with "at", each from there to where it ends; commas belong to it, as to an address. Which of them is one shows
 * what is lost of the rest of the line without it.
 * @returns where each stands with its "at", and its words
 * @example placesIn('meet Maud 3 December 14:00 at Penrow Laundry, Mill Lane') // [{ words: 'Penrow Laundry, Mill Lane', … }]
 */
export function placesIn(line: string): (Span & { readonly words: string })[] {
  return [...line.matchAll(/(?<=^|[\s,])at\s+/giu)].flatMap(({ index: start, 0: at }) => {
    const rest = line.slice(start + at.length);
    if (noPlace.test(rest)) return [];
    const words = rest.slice(0, ends.exec(rest)?.index ?? rest.length).replace(/[\s,]+$/, '');
    if (!/\p{L}{2}/u.test(words)) return [];
    return [{ start, end: start + at.length + words.length, words: words.slice(0, 160) }];
  });
}
