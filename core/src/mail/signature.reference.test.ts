import { readFileSync } from 'node:fs';
import { readPhone } from '../phone';
import { readSignature, type Signature } from '.';

/**
 * The corpora were written by hand for this, in the layouts of fourteen countries, from memory of what people put there. The rules were
 * made with the first; the figures are those of the second, which was kept apart.
 */
const fields = {
  n: 'name',
  t: 'title',
  f: 'firm',
  p: 'work number',
  d: 'direct number',
  m: 'mobile',
  x: 'fax',
  s: 'street',
  z: 'postcode',
  c: 'city',
  w: 'site',
} as const;
type Field = keyof typeof fields;
type Values = Partial<Record<Field, string>>;

function readCorpus(file: string) {
  const text = readFileSync(`${__dirname}/corpus/${file}`, 'utf8');
  return text
    .split(/^(?=# \w)/m)
    .slice(1)
    .map((each) => {
      const [head = '', ...lines] = each.split('\n');
      const [, name = '', country = '', from = '', address = ''] =
        /^# (\S+) in (\S+) from "?([^"<]*?)"? <(.*)>/.exec(head) ?? [];
      const isLabel = (line: string) => line.startsWith('= ');
      const meant = Object.fromEntries(
        lines.filter(isLabel).map((line) => [line.slice(2, 3), line.slice(4).trim()]),
      ) as Values;
      for (const kind of ['p', 'd', 'm', 'x'] as const)
        if (meant[kind] !== undefined) meant[kind] = readPhone(meant[kind], country)?.e164 ?? 'no number';
      const body = lines
        .filter((line) => !isLabel(line))
        .join('\n')
        .trim();
      return { name, meant, read: valuesOf(readSignature(body, { name: from, address, country })) };
    });
}

function valuesOf(signature: Signature): Values {
  const numberOf = (kind: string) => signature.phones.find((phone) => phone.kind === kind)?.number;
  const values = {
    n: [signature.givenName, signature.familyName].filter(Boolean).join(' ') || undefined,
    t: signature.title,
    f: signature.firm,
    p: numberOf('work'),
    d: numberOf('direct'),
    m: numberOf('mobile'),
    x: numberOf('fax'),
    s: signature.street,
    z: signature.postcode,
    c: signature.city,
    w: signature.website,
  };
  return Object.fromEntries(
    Object.entries(values).filter(([, value]) => value !== null && value !== undefined),
  );
}

const key = (value: string | undefined) =>
  value
    ?.toLowerCase()
    .replace(/[\s.,]+/g, ' ')
    .trim();

describe.each([
  ['those the rules were made with', 'signatures-for-the-rules.txt'],
  ['those kept apart', 'signatures-kept-apart.txt'],
])('%s', (_, file) => {
  const signatures = readCorpus(file);

  test.each(Object.entries(fields) as [Field, string][])('%s: %s', (field, words) => {
    const said = signatures.filter(({ read }) => read[field] !== undefined);
    const meant = signatures.filter((each) => each.meant[field] !== undefined);
    const right = said.filter((each) => key(each.read[field]) === key(each.meant[field]));
    const [precision, recall] = [right.length / said.length, right.length / meant.length];
    // eslint-disable-next-line no-console -- the figures are what this test is for
    console.info(
      `${file} ${words}: ${meant.length}, precision ${precision.toFixed(3)}, recall ${recall.toFixed(3)}`,
    );
    const wrong = signatures
      .filter((each) => key(each.read[field]) !== key(each.meant[field]))
      .map((each) => `${each.name}: ${each.read[field] ?? '-'} for ${each.meant[field] ?? '-'}`);
    expect(precision >= 0.97 && recall >= 0.9 ? [] : wrong).toEqual([]);
  });
});

test('there are at least 120, a third of them kept apart', () => {
  const [made, kept] = ['signatures-for-the-rules.txt', 'signatures-kept-apart.txt'].map(
    (file) => readCorpus(file).length,
  );
  expect(made! + kept!).toBeGreaterThanOrEqual(120);
  expect(kept! / (made! + kept!)).toBeGreaterThanOrEqual(1 / 3);
});
