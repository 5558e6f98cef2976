/** A part of a line, and where in it. */
export interface Clause {
  readonly text: string;
  readonly start: number;
}

const verbs = 'call|ring|phone|e-?mail|mail|write|text|meet|visit|send|see|remind|chase|follow|check';
/** A comma between figures, a point in a number, a time, an address or behind `Mr` or `14.12.` cuts nothing. */
const cut = new RegExp(
  String.raw`,(?!\d)\s*|(?<!\d),(?=\d)|[;!?]+\s*|:(?=\s)\s*|(?<!\b(?:[Mm]rs?|[Mm]s|[Dd]r|[Ss]t|[Nn]o|[Nn]r|[Tt]el|approx|e\.g|i\.e|ca)|\d\.\d{1,2}|\b\d{1,2})\.(?=\s|$)\s*|(?<=\d)\.\s+(?=\p{Lu})|\s+[-–—]\s+|\s+(?:and\s+)?then\s+|\s+and\s+(?=(?:${verbs})\b)`,
  'gu',
);

/** Cuts at commas, stops, colons and `then`, and before `and call …`. */
export function clausesOf(text: string): Clause[] {
  const clauses: Clause[] = [];
  let start = 0;
  const add = (end: number) => {
    if (text.slice(start, end).trim() !== '') clauses.push({ text: text.slice(start, end), start });
  };
  for (const found of text.matchAll(cut)) {
    add(found.index);
    start = found.index + found[0].length;
  }
  add(text.length);
  return clauses;
}
