/**
 * Jaro-Winkler similarity of two strings, 0 (nothing shared) to 1 (equal): W. E. Winkler, "String Comparator Metrics and
 * Enhanced Decision Rules in the Fellegi-Sunter Model of Record Linkage", 1990, with prefix weight 0.1 over at most four
 * letters. Compares code units: give both in the same normal form.
 * @example jaroWinkler('martha', 'marhta') is 0.961; of two empty strings it is 1, of one empty string 0
 */
export function jaroWinkler(one: string, other: string): number {
  const similarity = jaro(one, other);
  let prefix = 0;
  while (prefix < 4 && prefix < one.length && one[prefix] === other[prefix]) prefix += 1;
  return similarity + prefix * 0.1 * (1 - similarity);
}

function jaro(one: string, other: string): number {
  if (one === other) return 1;
  const reach = Math.max(0, Math.floor(Math.max(one.length, other.length) / 2) - 1);
  const taken = new Array<boolean>(other.length).fill(false);
  const matchedOfOne: string[] = [];
  for (let i = 0; i < one.length; i += 1) {
    const last = Math.min(other.length - 1, i + reach);
    for (let j = Math.max(0, i - reach); j <= last; j += 1) {
      if (taken[j] || one[i] !== other[j]) continue;
      taken[j] = true;
      matchedOfOne.push(one[i]!);
      break;
    }
  }
  const matches = matchedOfOne.length;
  if (matches === 0) return 0;
  const matchedOfOther = [...other].filter((_, j) => taken[j]);
  // Half transpositions are rounded down, as in Winkler's own program.
  const moved = Math.floor(
    matchedOfOne.filter((letter, index) => letter !== matchedOfOther[index]).length / 2,
  );
  return (matches / one.length + matches / other.length + (matches - moved) / matches) / 3;
}
