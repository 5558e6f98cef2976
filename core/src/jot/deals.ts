import type { ContactId, DealId } from '@kettle/contract';
import { nameKey } from '../duplicates';

export interface KnownDeal {
  readonly id: DealId;
  readonly name: string;
  readonly contactId: ContactId | null;
  readonly companyName: string | null;
}

export interface FoundDeal {
  /** Those it may be; more than one has to be asked about. */
  readonly fitting: readonly KnownDeal[];
  readonly start: number;
  readonly end: number;
}

const named =
  /(?:\b(?:about|on|in|for|re|of) )?\b(?:the |our |their |this )?((?:[\p{L}\d][\p{L}\d'’&-]* ){1,4})(?:deal|order|contract|quote)\b/giu;

/**
 * The deals that a line may name: the words before "deal" are words of their names or of their companies.
 * @example "the Wren deal" is the open deal of Wren Hotel
 */
export function findDeal(text: string, deals: readonly KnownDeal[]): FoundDeal | null {
  for (const match of text.matchAll(named)) {
    const words = match[1]!.trim().split(/\s+/);
    // The longest end of the words that names a deal: verbs may stand before it.
    for (let from = 0; from < words.length; from += 1) {
      const asked = nameKey(words.slice(from).join(' '))
        .split(' ')
        .filter((word) => word.length > 2);
      if (asked.length === 0) continue;
      const fitting = deals.filter(({ name, companyName }) => {
        const own = nameKey(`${name} ${companyName ?? ''}`).split(' ');
        return asked.every((word) => own.includes(word));
      });
      if (fitting.length === 0) continue;
      const at = match[0].lastIndexOf(words.slice(from).join(' '));
      const before = /(?:\b(?:about|on|in|for|re|of) )?(?:\b(?:the|our|their|this) )?$/i.exec(
        match[0].slice(0, at),
      )!;
      return { fitting, start: match.index + before.index, end: match.index + match[0].length };
    }
  }
  return null;
}

const endings: readonly (readonly [RegExp, 'won' | 'lost'])[] = [
  [
    /\b(?:we |i )?(?:have )?(?:won|signed|landed|got)\b(?=.*_)|_+ (?:is |was |has been )?(?:won|signed)\b/iu,
    'won',
  ],
  [/\b(?:we |i )?(?:have )?lost\b(?=.*_)|_+ (?:is |was |has been )?lost\b/iu, 'lost'],
];

/**
 * How a line says that a deal ended; the deal stands as `_` in it.
 * @returns null where it says nothing of an end, 'asked' where it could be either
 */
export function closingIn(
  masked: string,
): { readonly as: 'won' | 'lost' | 'asked'; readonly start: number; readonly end: number } | null {
  for (const [pattern, as] of endings) {
    const found = pattern.exec(masked);
    if (found) {
      const name = /_+/.exec(found[0]);
      const start = found.index + (name ? name[0].length : 0);
      return { as, start, end: found.index + found[0].length };
    }
  }
  const closed = /\bclosed\b(?=.*_)|_+ (?:is |was )?closed\b/iu.exec(masked);
  return (
    closed && { as: 'asked', start: closed.index, end: closed.index + closed[0].replace(/_+ /, '').length }
  );
}
