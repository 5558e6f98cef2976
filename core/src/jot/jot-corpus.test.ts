import { readFileSync } from 'node:fs';
import type { ContactId, DealId, JotReading, UserId } from '@kettle/contract';
import { defaultOutcomes } from '../touch';
import { type KnownPerson, readJot } from '.';

/** Lines written by hand for this. The rules were made with the first file; the figures are those of the second, which was kept apart. */
const person = (
  id: string,
  givenName: string,
  familyName: string,
  companyName: string,
  isMine = false,
): KnownPerson => ({
  id: id as ContactId,
  givenName,
  familyName,
  companyName,
  isMine,
});

const known = [
  person('maud', 'Maud', 'Ellery', 'Penrow Laundry'),
  person('theo', 'Theo', 'Quillan', 'Skell Bakery'),
  person('ines', 'Inês', 'Carvalho', 'Lavandaria Ribeira'),
  person('joost', 'Joost', 'van der Meer', 'Brouwerij De Kolk'),
  person('may', 'May', 'Winters', 'Fold Hotel'),
  person('tom', 'Tom', 'Askrigg', 'Askrigg Brewing'),
  person('anne1', 'Anne', 'Garth', 'Garth Brewing'),
  person('anne2', 'Anne', 'Sorrell', 'Sorrell Clinic'),
  person('rory1', 'Rory', 'Birk', 'Birk Car Wash', true),
  person('rory2', 'Rory', 'Tallis', 'Tallis Inn'),
];

/** A Tuesday, ten past nine in London. */
const setting = {
  now: '2026-11-24T09:10:00.000Z',
  zone: 'Europe/London',
  known,
  outcomes: defaultOutcomes,
  colleagues: [
    { id: 'dara' as UserId, name: 'Dara Finch' },
    { id: 'corin' as UserId, name: 'Corin Vale' },
  ],
  deals: [
    {
      id: 'wren' as DealId,
      name: 'Wren: softener',
      contactId: 'may' as ContactId,
      companyName: 'Fold Hotel',
    },
    {
      id: 'penrow' as DealId,
      name: 'Penrow: boiler plan',
      contactId: 'maud' as ContactId,
      companyName: null,
    },
  ],
  about: null,
  answers: {},
};

const clock = (minute: number | null) =>
  minute === null
    ? ''
    : ` ${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`;

/** What was read, in the words of the files. */
function said(read: JotReading): string[] {
  const { act, task, happened, amount } = read;
  const some = (word: string, value: string | number | null | undefined) =>
    value === null || value === undefined || value === '' ? [] : [`${word} ${value}`];
  const own = read.closing
    ? [`${read.closing} ${read.deal?.id}`]
    : act === 'log'
      ? [`log ${read.outcomeId}`]
      : act === 'lead' || act === 'note'
        ? [act]
        : [];
  return [
    ...own,
    ...(act === 'closing' || act === 'lead' ? [] : some('who', read.person?.id)),
    ...read.also.flatMap(({ id }) => some('also', id)),
    ...some('new', read.unknownName),
    ...some('at', happened && happened.on + clock(happened.minute)),
    ...some('long', read.minutes),
    ...some('task', task && `${task.channel} ${task.on}${clock(task.minute)}`),
    ...(task && task.purpose !== 'follow up' ? some('purpose', task.purpose) : []),
    ...some('for', task?.owner?.id),
    ...(read.closing ? [] : some('deal', read.deal?.id)),
    ...some('amount', amount && `${amount.minor / 100} ${amount.currency}`),
    ...read.tags.flatMap((tag) => some('tag', tag)),
    ...some('source', read.source),
    ...(act === 'note' ? [] : some('body', act === 'lead' ? read.lead?.subject : read.body)),
  ].sort();
}

function readLines(file: string) {
  const lines = readFileSync(`${__dirname}/corpus/${file}`, 'utf8').split('\n');
  return lines.flatMap((each) => {
    const [, line, meaning] = /^(.*?) => (.*)$/.exec(each) ?? [];
    if (line === undefined) return [];
    const meant = meaning!.split('|').map((part) => part.trim());
    const asks = meant.includes('ask');
    const read = readJot(line, setting);
    const isAsked = read.questions.length > 0;
    const found = said(read);
    const isRight = asks ? isAsked : !isAsked && found.join(' | ') === [...meant].sort().join(' | ');
    return [{ line, meant: [...meant].sort(), found, isAsked, isRight, isWrong: !isRight && !isAsked }];
  });
}

describe.each([
  ['those the rules were made with', 'lines-for-the-rules.txt'],
  ['those kept apart', 'lines-kept-apart.txt'],
])('%s', (_, file) => {
  test('are read rightly or asked about, and hardly ever wrongly', () => {
    const lines = readLines(file);
    const share = (part: number) => `${((100 * part) / lines.length).toFixed(1)} %`;
    const count = (is: (line: (typeof lines)[number]) => boolean) => lines.filter(is).length;
    const [right, asked, wrong] = [
      count(({ isRight }) => isRight),
      count(({ isAsked }) => isAsked),
      count(({ isWrong }) => isWrong),
    ];
    // eslint-disable-next-line no-console -- the figures are what this test is for
    console.info(
      `${file}: ${lines.length} lines, right ${share(right)}, asked ${share(asked)}, wrong without asking ${share(wrong)}`,
    );
    const words = lines
      .filter(({ isWrong }) => isWrong)
      .map(({ line, found, meant }) => `${line} :: ${found.join(' | ')} :: ${meant.join(' | ')}`);
    expect(wrong <= lines.length / 100 ? [] : words).toEqual([]);
    expect(right / lines.length).toBeGreaterThanOrEqual(0.95);
  });
});

test('there are at least 250, a third of them kept apart', () => {
  const [made, kept] = ['lines-for-the-rules.txt', 'lines-kept-apart.txt'].map(
    (file) => readLines(file).length,
  );
  expect(made! + kept!).toBeGreaterThanOrEqual(250);
  expect(kept! / (made! + kept!)).toBeGreaterThanOrEqual(1 / 3);
});
