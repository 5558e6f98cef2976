/** What stands before the cursor as the beginning of a colleague's name. @example openMention('ask @co') is 'co' */
export function openMention(before: string): string | null {
  const found = /(?:^|[\s(])@((?:\p{L}[\p{L}'’-]*(?: [\p{L}'’-]*)?)?)$/u.exec(before);
  return found ? found[1]! : null;
}

const mostProposed = 5;

/** Colleagues whom an unfinished @name may mean, each with the text that naming them leaves before the cursor. */
export function proposeMentions<Colleague extends { readonly name: string }>(
  before: string,
  colleagues: readonly Colleague[],
): readonly (Colleague & { readonly text: string; readonly typed: number })[] {
  const part = openMention(before);
  if (part === null) return [];
  const wanted = part.toLowerCase();
  const start = before.slice(0, before.length - part.length);
  return colleagues
    .filter(({ name }) => {
      const words = name.toLowerCase();
      const family = words.split(' ').at(-1)!;
      return words !== wanted && (words.startsWith(wanted) || family.startsWith(wanted));
    })
    .slice(0, mostProposed)
    .map((each) => ({ ...each, text: `${start}${each.name} `, typed: part.length }));
}
