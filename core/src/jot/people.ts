import type { ContactId, JotQuestion } from '@kettle/contract';
import { jaroWinkler, nameKey } from '../duplicates';
import { notNames } from './words';

export interface KnownPerson {
  readonly id: ContactId;
  readonly givenName: string;
  readonly familyName: string;
  readonly companyName: string | null;
  /** Whether the reader owns them: goes before equally good others. */
  readonly isMine: boolean;
}

export interface Word {
  readonly text: string;
  readonly start: number;
  readonly end: number;
}

export interface FoundPerson {
  readonly person: KnownPerson | null;
  readonly question: JotQuestion | null;
  /** Words of the line that named them, as indexes. */
  readonly taken: ReadonlySet<number>;
}

const alikeFrom = 0.93;

export function wordsOf(text: string): Word[] {
  return [...text.matchAll(/[\p{L}\p{N}][\p{L}\p{N}'’&-]*/gu)].map((found) => ({
    text: found[0],
    start: found.index,
    end: found.index + found[0].length,
  }));
}

/** Further people whose whole name, or half of it that nobody else has, stands beside those found: `met Maud and Theo`. */
export function findOthers(
  words: readonly Word[],
  known: readonly KnownPerson[],
  first: FoundPerson,
  text: string,
): { readonly people: KnownPerson[]; readonly taken: ReadonlySet<number> } {
  const people: KnownPerson[] = [];
  const taken = new Set(first.taken);
  for (;;) {
    const left = words.map((word, index) => (taken.has(index) ? { ...word, text: '' } : word));
    const next = findPerson(left, known, {});
    const { person } = next;
    if (person === null || person.id === first.person?.id || people.some(({ id }) => id === person.id)) break;
    const at = Math.min(...next.taken);
    const before = text.slice(0, words[at]!.start);
    const isJoined = /(?:\band|&|,|\bwith)\s*$/i.test(before) && /^\p{Lu}/u.test(words[at]!.text);
    if (!isJoined) break;
    people.push(person);
    next.taken.forEach((index) => taken.add(index));
  }
  return { people, taken };
}

/** Finds whom a line means: full names before given or family names alone, a firm's name decides between two. */
export function findPerson(
  words: readonly Word[],
  known: readonly KnownPerson[],
  answers: Readonly<Record<string, string>>,
): FoundPerson {
  const keys = words.map((word) => nameKey(word.text.replace(/['’]s$/, '')));
  const scored = known
    .map((person) => ({ person, ...scoreOf(person, words, keys) }))
    .filter((each) => each.score > 0)
    .sort(
      (a, b) =>
        b.score - a.score ||
        Number(b.person.isMine) - Number(a.person.isMine) ||
        Math.min(...a.taken) - Math.min(...b.taken),
    );
  const [best] = scored;
  if (!best) return { person: null, question: null, taken: new Set() };
  // Two of equal weight are a doubt only where the same words name them.
  const names = (each: (typeof scored)[number]) => [...each.taken].sort().join(' ');
  const equal = scored.filter(
    (each) =>
      each.score === best.score && each.person.isMine === best.person.isMine && names(each) === names(best),
  );
  const answered = equal.find((each) => each.person.id === answers.person);
  if (equal.length === 1 || answered) {
    const chosen = answered ?? best;
    return { person: chosen.person, question: null, taken: chosen.taken };
  }
  const choices = equal.slice(0, 6).map(({ person }) => ({
    value: person.id as string,
    words:
      `${person.givenName} ${person.familyName}${person.companyName ? `, ${person.companyName}` : ''}`.trim(),
  }));
  return {
    person: null,
    question: { about: 'person', words: $localize`Who is meant?`, choices },
    taken: best.taken,
  };
}

function scoreOf(person: KnownPerson, words: readonly Word[], keys: readonly string[]) {
  const taken = new Set<number>();
  const given = match(nameKey(person.givenName).split(' '), words, keys, true, taken);
  const family = match(nameKey(person.familyName).split(' '), words, keys, true, taken);
  if ((given === 0 && family === 0) || ((given === 0 || family === 0) && standsBesideAName(taken, words)))
    return firmAlone(person, words, keys);
  const firm = match(firmWords(person.companyName), words, keys, false, taken);
  return { score: (given > 0 && family > 0 ? 4 : family > 0 ? 2 : 1.5) + (firm > 0 ? 1 : 0), taken };
}

/** A firm is its people: one of them is meant, and asked for where there are several. */
function firmAlone(person: KnownPerson, words: readonly Word[], keys: readonly string[]) {
  const taken = new Set<number>();
  const firm = firmWords(person.companyName);
  const found = match(firm, words, keys, false, taken);
  const isWhole = found === firm.length && found > 0;
  return isWhole ? { score: 1, taken } : { score: 0, taken: new Set<number>() };
}

/** `Agatha Ellery` is not Maud Ellery: half a name beside another capitalised word is somebody else's. */
function standsBesideAName(taken: ReadonlySet<number>, words: readonly Word[]): boolean {
  return [...taken].some((at) =>
    [at - 1, at + 1].some((beside) => {
      const [word, first, second] = [words[beside], words[Math.min(at, beside)], words[Math.max(at, beside)]];
      if (!word || taken.has(beside) || !first || !second) return false;
      const isNext = second.start - first.end === 1;
      return isNext && /^\p{Lu}\p{Ll}/u.test(word.text) && !notNames.test(word.text);
    }),
  );
}

const firmFillers = new Set(['ltd', 'limited', 'and', 'the', 'of', 'co', 'bv', 'lda', 'house', 'inn']);
function firmWords(name: string | null): string[] {
  return name === null
    ? []
    : nameKey(name)
        .split(' ')
        .filter((word) => word.length > 2 && !firmFillers.has(word));
}

/** How many of a name's words the line has; a name is written with a capital or exactly as it is stored. */
function match(
  name: readonly string[],
  words: readonly Word[],
  keys: readonly string[],
  mayBeMisspelt: boolean,
  taken: Set<number>,
): number {
  let found = 0;
  for (const part of name.filter(Boolean)) {
    const at = keys.findIndex(
      (key, index) => !taken.has(index) && isWord(key, part, words[index]!, mayBeMisspelt),
    );
    if (at < 0) continue;
    taken.add(at);
    found += 1;
  }
  return found;
}

function isWord(key: string, part: string, word: Word, mayBeMisspelt: boolean): boolean {
  if (key === part) return true;
  const isCapital = /^\p{Lu}/u.test(word.text);
  return (
    mayBeMisspelt && isCapital && part.length >= 5 && key.length >= 4 && jaroWinkler(key, part) >= alikeFrom
  );
}
