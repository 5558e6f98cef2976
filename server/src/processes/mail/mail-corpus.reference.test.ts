import { readFileSync } from 'node:fs';
import { absenceUntil, hasFailedForGood, kindOfIncoming } from '@kettle/core/mail';
import { parseMail } from './parse-mail';

/**
 * The corpora were written by hand for this: the habits of several mail servers and of nine languages, from memory of what such mails
 * look like. The rules were made with the first; the figures are those of the second, which was kept apart.
 */
interface Labelled {
  readonly name: string;
  readonly kind: string;
  readonly until: string | null | undefined;
  readonly country: string;
  readonly isDead: boolean;
  readonly raw: string;
}

const ours = 'ines@fen.example';
const kinds: Readonly<Record<string, string>> = { away: 'out-of-office' };

function readCorpus(file: string): Labelled[] {
  const text = readFileSync(`${__dirname}/corpus/${file}`, 'utf8');
  return text
    .split(/^(?=# \w)/m)
    .slice(1)
    .map((each) => {
      const [label = '', ...lines] = each.split('\n');
      const words = label.split(' ');
      const after = (word: string) => (words.includes(word) ? words[words.indexOf(word) + 1]! : undefined);
      const until = after('until');
      return {
        name: words[2]!,
        kind: kinds[words[1]!] ?? words[1]!,
        until: until === 'none' ? null : until,
        country: after('in') ?? 'GB',
        isDead: words.includes('dead'),
        raw: rawMail(lines.join('\n')),
      };
    });
}

/** The headers that every mail has are filled in; further parts make it a report. */
function rawMail(written: string): string {
  const [letter = '', ...parts] = written.split(/^-- /m);
  const split = letter.indexOf('\n\n');
  const [head, body] = [letter.slice(0, split).trim(), letter.slice(split + 2)];
  const has = (name: string) => new RegExp(`^${name}:`, 'im').test(head);
  const added = [
    has('from') ? [] : 'From: Ines Marlow <ines@fen.example>',
    'To: corin@hollinbeck.example',
    'Date: Tue, 24 Nov 2026 09:00:00 +0000',
    'Message-ID: <theirs-1@fen.example>',
    'MIME-Version: 1.0',
  ].flat();
  const lines = head
    .split('\n')
    .filter((line) => !/^content-type:/i.test(line))
    .map((line) =>
      line.replace(/[^\x20-\x7e]+/g, (word) => `=?utf-8?B?${Buffer.from(word).toString('base64')}?=`),
    );
  const given = /^content-type:\s*(.*)$/im.exec(head)?.[1] ?? 'multipart/report; report-type=delivery-status';
  const plain = 'Content-Type: text/plain; charset=utf-8\n\n';
  if (parts.length === 0) return [...added, ...lines, `${plain}${body}`].join('\n');
  const further = parts.map((part) => {
    const end = part.indexOf('\n');
    return `--cut\nContent-Type: ${part.slice(0, end).trim()}\n\n${part.slice(end + 1)}`;
  });
  const whole = [`--cut\n${plain}${body}`, ...further, '--cut--'].join('\n');
  return [...added, ...lines, `Content-Type: ${given}; boundary=cut\n`, whole].join('\n');
}

interface Read {
  readonly mail: Labelled;
  readonly kind: string;
  readonly until: string | null;
  readonly isDead: boolean;
}

async function readAll(mails: readonly Labelled[]): Promise<Read[]> {
  const read: Read[] = [];
  for (const mail of mails) {
    const parsed = await parseMail(Buffer.from(mail.raw), null);
    const kind = kindOfIncoming(parsed.incoming);
    read.push({
      mail,
      kind: kind.kind,
      until: absenceUntil(`${parsed.subject}\n\n${parsed.newWords}`, '2026-11-24', mail.country),
      isDead: kind.kind === 'bounce' && hasFailedForGood(kind.failed, ours),
    });
  }
  return read;
}

const named = (read: readonly Read[]) =>
  read.map(({ mail, kind, until }) => `${mail.name}: ${kind} ${until}`);
const classes = ['human', 'out-of-office', 'automatic', 'bounce', 'unsubscribe'];

describe.each([
  ['those the rules were made with', 'for-the-rules.txt', 1],
  ['those kept apart', 'kept-apart.txt', 0.97],
])('%s', (_, file, least) => {
  let read: Read[] = [];
  beforeAll(async () => {
    read = await readAll(readCorpus(file));
  });

  test.each(classes)('%s: precision and recall', (kind) => {
    const meant = read.filter(({ mail }) => mail.kind === kind);
    const said = read.filter((each) => each.kind === kind);
    const right = said.filter(({ mail }) => mail.kind === kind);
    const [precision, recall] = [right.length / said.length, right.length / meant.length];
    // eslint-disable-next-line no-console -- the figures are what this test is for
    console.info(
      `${file} ${kind}: ${meant.length} mails, precision ${precision.toFixed(3)}, recall ${recall.toFixed(3)}`,
    );
    const wrong = read.filter(({ mail, kind: as }) => as !== mail.kind && [as, mail.kind].includes(kind));
    expect(precision >= least && recall >= least ? [] : named(wrong)).toEqual([]);
  });

  test('the day of the return', () => {
    const away = read.filter(({ mail }) => mail.kind === 'out-of-office');
    const wrong = away.filter(({ mail, until }) => until !== mail.until);
    // eslint-disable-next-line no-console -- the figures are what this test is for
    console.info(`${file} return: ${away.length - wrong.length} of ${away.length}`);
    expect(wrong.length <= away.length * (1 - least) ? [] : named(wrong)).toEqual([]);
  });

  test('no address is dead for a mail that did not fail for good', () => {
    const killed = read.filter(({ mail, isDead }) => isDead && !mail.isDead);
    const missed = read.filter(({ mail, isDead }) => !isDead && mail.isDead);
    expect({ killed: named(killed), missed: named(missed) }).toEqual({ killed: [], missed: [] });
  });
});

test('there are at least 200, a third of them kept apart', () => {
  const [made, kept] = ['for-the-rules.txt', 'kept-apart.txt'].map((file) => readCorpus(file).length);
  expect(made! + kept!).toBeGreaterThanOrEqual(200);
  expect(kept! / (made! + kept!)).toBeGreaterThanOrEqual(1 / 3);
});
