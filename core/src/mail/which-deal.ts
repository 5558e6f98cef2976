import { folded } from './days-in-text';

/**
 * Deals in the order in which a mail is likely to mean them: by how much of a deal's name, as far as no other's has it, its subject
 * and its words say; equal ones stay as they came.
 * @example dealsMeant([{ name: 'Softener' }, { name: 'Boiler treatment' }], { subject: 'Re: the boiler', text: '' })[0].name is 'Boiler treatment'
 */
export function dealsMeant<Deal extends { readonly name: string }>(
  deals: readonly Deal[],
  { subject, text }: { readonly subject: string; readonly text: string },
): Deal[] {
  const words = deals.map(({ name }) => new Set(wordsOf(name)));
  const [inSubject, inText] = [new Set(wordsOf(subject)), new Set(wordsOf(text.slice(0, mostText)))];
  const score = (index: number) => {
    const own = [...words[index]!].filter((word) =>
      words.every((other, at) => at === index || !other.has(word)),
    );
    const said = own.reduce((sum, word) => sum + (inSubject.has(word) ? 2 : inText.has(word) ? 1 : 0), 0);
    return own.length === 0 ? 0 : said / own.length;
  };
  return deals
    .map((deal, index) => ({ deal, score: score(index) }))
    .sort((one, other) => other.score - one.score)
    .map(({ deal }) => deal);
}

const mostText = 4000;
const wordsOf = (text: string) => folded(text).match(/[\p{L}\d]{3,}/gu) ?? [];
