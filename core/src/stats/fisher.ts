/** Two arms: how many of each came out one way, and how many the other. Whole numbers, none negative. */
export interface TwoByTwo {
  readonly first: readonly [yes: number, no: number];
  readonly second: readonly [yes: number, no: number];
}

/** How many times less likely a table may be, by rounding alone, and still count as equally likely. */
const tolerance = 1 + 1e-7;

/**
 * Fisher's exact test: the chance, with the margins given, of a table at least as far towards the first arm
 * (`oneSided`), and of one at most as likely as this one (`twoSided`).
 * Example: the lady who names 3 of 4 cups: 0.2429 and 0.4857.
 * @see Fisher, The Design of Experiments (1935), chapter II
 */
export function fisherTest({ first, second }: TwoByTwo): { oneSided: number; twoSided: number } {
  const rowSize = first[0] + first[1];
  const otherSize = second[0] + second[1];
  const yes = first[0] + second[0];
  const least = Math.max(0, yes - otherSize);
  const most = Math.min(rowSize, yes);
  const all = logChoose(rowSize + otherSize, yes);
  const chanceOf = (count: number) =>
    Math.exp(logChoose(rowSize, count) + logChoose(otherSize, yes - count) - all);
  const seen = chanceOf(first[0]);
  let oneSided = 0;
  let twoSided = 0;
  for (let count = least; count <= most; count += 1) {
    const chance = chanceOf(count);
    if (count >= first[0]) oneSided += chance;
    if (chance <= seen * tolerance) twoSided += chance;
  }
  return { oneSided: Math.min(1, oneSided), twoSided: Math.min(1, twoSided) };
}

/** Logarithms of factorials, grown as far as they are asked for. */
const logFactorials = [0];

function logFactorial(n: number): number {
  for (let at = logFactorials.length; at <= n; at += 1)
    logFactorials.push(logFactorials[at - 1]! + Math.log(at));
  return logFactorials[n]!;
}

function logChoose(n: number, k: number): number {
  return logFactorial(n) - logFactorial(k) - logFactorial(n - k);
}
