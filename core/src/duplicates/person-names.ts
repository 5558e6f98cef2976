import { isShortFor } from './given-names';
import { jaroWinkler } from './jaro-winkler';
import { spelledKey } from './names';

export interface PersonName {
  readonly givenName: string;
  readonly familyName: string;
}

/**
 * How two names stand to each other: `same` allows for accents, titles, short forms, middle names and the parts of a double name; `like`
 * for a slip of the pen, an initial or a family name that is missing; `part` have the given name alone; `unknown` when one says nothing.
 */
export type NameRelation = 'same' | 'like' | 'initial' | 'part' | 'differs' | 'unknown';

const titles = new Set(
  'dr prof ing mr mrs ms miss mx sir herr frau dhr mevr mme mlle sr sra srta dott dottssa dottoressa mgr mag dipl med phd msc bsc mba md frcs mbbs ceng rn esq'.split(
    ' ',
  ),
);
const women = new Set('mrs ms miss frau mevr mme mlle sra srta'.split(' '));
const men = new Set('mr herr dhr sir'.split(' '));
const generations: Readonly<Record<string, string>> = {
  jr: 'junior',
  junior: 'junior',
  senior: 'senior',
  snr: 'senior',
  jnr: 'junior',
  ii: '2',
  iii: '3',
};
const particles = new Set(
  'de van von der den het la le di da do dos das del della ten ter op zu zum af av y e i o mac'.split(' '),
);

interface Read {
  readonly given: readonly string[];
  readonly family: readonly string[];
  readonly generation: string | null;
  readonly isWoman: boolean | null;
}

function read({ givenName, familyName }: PersonName): Read {
  const [given, family] = [givenName, familyName].map((name) =>
    spelledKey(name).split(' ').filter(Boolean),
  ) as [string[], string[]];
  const all = [...given, ...family];
  const last = family.at(-1) ?? '';
  // "sr" is a title in front and an age behind.
  const generation = generations[last] ?? (last === 'sr' && family.length > 1 ? 'senior' : null);
  const isNone = (word: string) => titles.has(word) || word in generations;
  return {
    given: given.filter((word) => !isNone(word)),
    family: family.filter((word) => !isNone(word)),
    generation,
    isWoman: all.some((word) => women.has(word)) ? true : all.some((word) => men.has(word)) ? false : null,
  };
}

/** @see NameRelation */
export function compareNames(one: PersonName, other: PersonName): NameRelation {
  const [a, b] = [read(one), read(other)];
  if (a.given.length + a.family.length === 0 || b.given.length + b.family.length === 0) return 'unknown';
  if (a.generation !== b.generation && a.generation !== null && b.generation !== null) return 'differs';
  if (a.isWoman !== null && b.isWoman !== null && a.isWoman !== b.isWoman) return 'differs';
  const asGiven = relate(a, b);
  const swapped = relate(a, { ...b, given: b.family, family: b.given });
  return order.indexOf(asGiven) <= order.indexOf(swapped) ? asGiven : swapped === 'same' ? 'same' : asGiven;
}

const order: readonly NameRelation[] = ['same', 'like', 'initial', 'part', 'unknown', 'differs'];

function relate(a: Read, b: Read): NameRelation {
  const given = relateGiven(a.given, b.given);
  if (a.family.length === 0 || b.family.length === 0)
    return given === 'same' && (a.family.length > 0 || b.family.length > 0)
      ? 'like'
      : given === 'same'
        ? 'same'
        : 'differs';
  const family = relateFamily(a.family, b.family);
  if (family === 'differs') return given === 'same' ? 'part' : 'differs';
  if (given === 'none') return 'initial';
  if (given === 'differs') return 'differs';
  if (given === 'initial') return family === 'same' ? 'initial' : 'differs';
  return family === 'same' && given === 'same' ? 'same' : 'like';
}

type Part = 'same' | 'slip' | 'initial' | 'none' | 'differs';

function relateGiven(one: readonly string[], other: readonly string[]): Part {
  if (one.length === 0 || other.length === 0) return 'none';
  const [first, second] = [one[0]!, other[0]!];
  if (one.join('') === other.join('') || first === second || isShortFor(first, second)) return 'same';
  if (first.length === 1 || second.length === 1) return first[0] === second[0] ? 'initial' : 'differs';
  return isSlip(first, second) ? 'slip' : 'differs';
}

/**
 * Given names differ by one letter where two people do (Martin and Martina, Ada and Ida): a slip is two letters changed places inside
 * of a name, or its last one written twice.
 */
function isSlip(one: string, other: string): boolean {
  const [short, long] = one.length <= other.length ? [one, other] : [other, one];
  if (long === short + short.at(-1)!) return short.length >= 3;
  if (short.length !== long.length || short.length < 5) return false;
  const at = [...short].findIndex((letter, index) => letter !== long[index]);
  const isSwap = short[at] === long[at + 1] && short[at + 1] === long[at];
  return isSwap && at < short.length - 2 && short.slice(at + 2) === long.slice(at + 2);
}

function relateFamily(one: readonly string[], other: readonly string[]): Part {
  const bare = (words: readonly string[]) => {
    const kept = words.filter((word) => !particles.has(word));
    return kept.length === 0 ? words : kept;
  };
  if (one.join('') === other.join('')) return 'same';
  const [a, b] = [bare(one), bare(other)];
  const [few, many] = a.length <= b.length ? [a, b] : [b, a];
  if (few.every((word) => many.includes(word))) return 'same';
  return isTypo(one.join(''), other.join('')) || isTypo(a.join(''), b.join('')) ? 'slip' : 'differs';
}

const alikeFrom = 0.92;

/** One letter more, less, other or changed in place, and the first one right. */
function isTypo(one: string, other: string): boolean {
  if (Math.min(one.length, other.length) < 4 || one[0] !== other[0]) return false;
  return (
    Math.abs(one.length - other.length) <= 1 &&
    jaroWinkler(one, other) >= alikeFrom &&
    editDistance(one, other) <= 1
  );
}

/** Letters added, left out, changed, or two that changed places (the optimal string alignment distance). */
export function editDistance(one: string, other: string): number {
  const rows = [Array.from({ length: other.length + 1 }, (_, index) => index)];
  for (let i = 1; i <= one.length; i += 1) {
    const row = [i];
    for (let j = 1; j <= other.length; j += 1) {
      const isSame = one[i - 1] === other[j - 1];
      let least = Math.min(rows[i - 1]![j]! + 1, row[j - 1]! + 1, rows[i - 1]![j - 1]! + (isSame ? 0 : 1));
      if (i > 1 && j > 1 && one[i - 1] === other[j - 2] && one[i - 2] === other[j - 1])
        least = Math.min(least, rows[i - 2]![j - 2]! + 1);
      row.push(least);
    }
    rows.push(row);
  }
  return rows[one.length]![other.length]!;
}
