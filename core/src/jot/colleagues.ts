import type { UserId } from '@kettle/contract';
import { nameKey } from '../duplicates';

export interface Colleague {
  readonly id: UserId;
  readonly name: string;
}

const name = String.raw`(?<name>\p{Lu}[\p{L}'’-]+(?: \p{Lu}[\p{L}'’-]+)?)`;
const verbs =
  'call|ring|phone|e-?mail|mail|write|text|meet|visit|send|see|chase|follow|check|prepare|order|book|find';
/** The ways in which something is given to a colleague; what stays is what they are to do. */
const given: readonly RegExp[] = [
  new RegExp(String.raw`^\s*task for ${name}\s*[:,-]?\s*`, 'iu'),
  new RegExp(String.raw`^\s*(?:for|@)\s?${name}\s*[:,]\s*`, 'u'),
  new RegExp(String.raw`\b(?:[Aa]sk|[Tt]ell|[Gg]et|[Rr]emind) ${name} to (?=(?:${verbs})\b)`, 'u'),
  new RegExp(String.raw`(?:^|[,;.] ?)\s*${name} (?:to|should|is to|must) (?=(?:${verbs})\b)`, 'u'),
];

/** Who of the house is to do what a line asks for, and where that is said. */
export function findColleague(
  text: string,
  colleagues: readonly Colleague[],
): { readonly colleague: Colleague; readonly start: number; readonly end: number } | null {
  for (const pattern of given) {
    const match = pattern.exec(text);
    if (!match) continue;
    const called = nameKey(match.groups!.name!);
    const fitting = colleagues.filter((each) => {
      const own = nameKey(each.name);
      return own === called || own.split(' ')[0] === called.split(' ')[0];
    });
    if (fitting.length === 1)
      return { colleague: fitting[0]!, start: match.index, end: match.index + match[0].length };
  }
  return null;
}
