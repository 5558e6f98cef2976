import { readFileSync } from 'node:fs';
import { readPhone } from '../phone';
import { compareContacts, type Identity } from '.';

/**
 * Pairs written by hand for this, in the habits of a dozen countries. The rules were made with the first file; the figures are those of
 * the second, which was kept apart.
 */
function readPairs(file: string) {
  const lines = readFileSync(`${__dirname}/corpus/${file}`, 'utf8').split('\n');
  return lines.flatMap((line) => {
    const [, truth, one, other] = /^(one|two): (.*?) = (.*)$/.exec(line) ?? [];
    return truth === undefined
      ? []
      : [{ line, isOne: truth === 'one', one: identityOf(one!), other: identityOf(other!) }];
  });
}

function identityOf(text: string): Identity {
  const [name = '', firm = '', points = ''] = text.split(';').map((part) => part.trim());
  const cut = name.includes('/') ? name.indexOf('/') : name.lastIndexOf(' ');
  const cutName = cut < 0 ? [name, ''] : [name.slice(0, cut), name.slice(cut + 1)];
  // A title or an age is no family name.
  const [givenName, familyName] = / (?:MSc|FRCS|Sr|Jr|senior|junior)$/.test(name)
    ? [name.split(' ')[0]!, name.split(' ').slice(1).join(' ')]
    : cutName;
  const all = points
    .split(',')
    .map((point) => point.trim())
    .filter(Boolean);
  return {
    givenName: givenName!,
    familyName: familyName!,
    companies: firm === '' ? [] : [firm],
    emails: all.filter((point) => point.includes('@')),
    phones: all.filter((point) => !point.includes('@')).map((point) => numberOf(point)),
  };
}

/** Numbers are written as at home: the first country in which one is a number. */
const numberOf = (text: string) =>
  ['GB', 'DE', 'NL', 'FR', 'ES', 'PT', 'IT', 'SE', 'PL', 'US', 'BE', 'AT', 'CH'].flatMap(
    (country) => readPhone(text, country)?.e164 ?? [],
  )[0]!;

describe.each([
  ['those the rules were made with', 'pairs-for-the-rules.txt'],
  ['those kept apart', 'pairs-kept-apart.txt'],
])('%s', (_, file) => {
  const pairs = readPairs(file).map((pair) => ({
    ...pair,
    said: compareContacts(pair.one, pair.other).likeness,
  }));
  const certain = pairs.filter(({ said }) => said === 'certain');
  const likely = pairs.filter(({ said }) => said === 'likely');
  const ones = pairs.filter(({ isOne }) => isOne);
  const found = ones.filter(({ said }) => said !== 'unlikely');

  test('certain is never wrong, likely seldom, and few are missed', () => {
    const precision = (of: typeof pairs) => of.filter(({ isOne }) => isOne).length / of.length;
    const recall = found.length / ones.length;
    // eslint-disable-next-line no-console -- the figures are what this test is for
    console.info(
      `${file}: ${pairs.length} pairs; certain ${certain.length}, precision ${precision(certain).toFixed(3)}; likely ${likely.length}, precision ${precision(likely).toFixed(3)}; recall ${recall.toFixed(3)}`,
    );
    const lines = (of: typeof pairs) => of.map(({ line, said }) => `${said}: ${line}`);
    expect(lines(certain.filter(({ isOne }) => !isOne))).toEqual([]);
    expect(precision(likely) >= 0.9 ? [] : lines(likely.filter(({ isOne }) => !isOne))).toEqual([]);
    expect(recall >= 0.9 ? [] : lines(ones.filter(({ said }) => said === 'unlikely'))).toEqual([]);
  });

  test('which is first makes no difference', () => {
    expect(pairs.filter(({ one, other, said }) => compareContacts(other, one).likeness !== said)).toEqual([]);
  });
});

test('there are at least 300, a third of them kept apart', () => {
  const [made, kept] = ['pairs-for-the-rules.txt', 'pairs-kept-apart.txt'].map(
    (file) => readPairs(file).length,
  );
  expect(made! + kept!).toBeGreaterThanOrEqual(300);
  expect(kept! / (made! + kept!)).toBeGreaterThanOrEqual(1 / 3);
});
