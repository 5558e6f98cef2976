import * as fc from 'fast-check';
import { columnsOf, guessKind, proposeColumns, type ColumnChoices, type ImportColumn } from './columns';
import { guessFormats, readFileAmount, readFileDate, readFileNumber } from './formats';
import { judgeRecord, sayValue } from './records';

const choices: ColumnChoices = {
  owners: ['Imogen Thorne'],
  stages: [{ value: 'Sales: Offer', names: ['Offer'] }],
  channels: [{ value: 'email', names: ['E-mail'] }],
  custom: [
    {
      id: 'f1' as never,
      subject: 'deal',
      name: 'Boilers',
      type: 'number',
      choices: [],
      isRetired: false,
      version: 1,
    },
    {
      id: 'f2' as never,
      subject: 'deal',
      name: 'Who',
      type: 'person',
      choices: [],
      isRetired: false,
      version: 1,
    },
  ],
};
const usual = { dates: 'dmy', numbers: 'point' } as const;

describe('days', () => {
  test.each([
    ['2026-11-24', 'mdy', '2026-11-24'],
    ['24/11/2026', 'dmy', '2026-11-24'],
    ['11/24/2026', 'mdy', '2026-11-24'],
    ['24.11.26', 'dmy', '2026-11-24'],
    ['24. 11. 2026', 'dmy', '2026-11-24'],
    ['26/11/24', 'ymd', '2026-11-24'],
    ['2026/11/24 09:30', 'dmy', '2026-11-24'],
    ['2026-11-24T09:30:00Z', 'dmy', '2026-11-24'],
    ['24 Nov 2026', 'mdy', '2026-11-24'],
    ['Nov 24, 2026', 'dmy', '2026-11-24'],
    ['24th November 2026', 'dmy', '2026-11-24'],
    ['24-Nov-26', 'dmy', '2026-11-24'],
    ['24. März 2026', 'dmy', '2026-03-24'],
    ['24 de novembro de 2026', 'dmy', '2026-11-24'],
    ['1.2.71', 'dmy', '1971-02-01'],
    ['29/02/2027', 'dmy', null],
    ['13/13/2026', 'dmy', null],
    ['11/24/2026', 'dmy', null],
    ['tomorrow', 'dmy', null],
    ['24', 'dmy', null],
  ] as const)('%s in the order %s is %s', (text, order, expected) => {
    expect(readFileDate(text, order)).toBe(expected);
  });

  test('every day that there is comes back from each order', () => {
    const days = fc.date({ min: new Date('1970-01-01'), max: new Date('2069-12-31'), noInvalidDate: true });
    fc.assert(
      fc.property(days, fc.constantFrom('/', '.', '-'), (date, mark) => {
        const iso = date.toISOString().slice(0, 10);
        const [y, m, d] = iso.split('-') as [string, string, string];
        expect(readFileDate([d, m, y].join(mark), 'dmy')).toBe(iso);
        expect(readFileDate([m, d, y].join(mark), 'mdy')).toBe(iso);
        expect(readFileDate([y.slice(2), m, d].join(mark), 'ymd')).toBe(iso);
      }),
    );
  });
});

describe('numbers and amounts', () => {
  test.each([
    ['1,234.50', 'point', 1234.5],
    ['1.234,50', 'comma', 1234.5],
    ['1.234,50', 'point', null],
    ['1 234,50', 'comma', 1234.5],
    ["1'234.50", 'point', 1234.5],
    ['12.5', 'comma', 12.5],
    ['12,5', 'point', 12.5],
    ['1.234', 'comma', 1234],
    ['1.234', 'point', 1.234],
    ['12,34,567', 'point', 1_234_567],
    ['(12.50)', 'point', -12.5],
    ['−7', 'point', -7],
    ['7-', 'point', -7],
    ['1,23.4', 'point', null],
    ['', 'point', null],
    ['1.2.3', 'point', null],
  ] as const)('%s with a decimal %s is %s', (text, mark, expected) => {
    expect(readFileNumber(text, mark)?.value ?? null).toBe(expected);
  });

  test.each([
    ['£4,400.50', 'GBP', 'point', 440_050],
    ['€ 4.400,50', 'EUR', 'comma', 440_050],
    ['4400 EUR', 'EUR', 'comma', 440_000],
    ['4400 USD', 'EUR', 'comma', null],
    ['12.5k', 'GBP', 'point', 1_250_000],
    ['1.005', 'GBP', 'point', null],
    ['1.500', 'GBP', 'point', 150],
    ['1500', 'JPY', 'point', 1500],
    ['1.5', 'JPY', 'point', null],
    ['1.234', 'KWD', 'point', 1234],
    ['(12.50)', 'GBP', 'point', -1250],
    ['a lot', 'GBP', 'point', null],
  ] as const)('%s in %s with a decimal %s is %s', (text, currency, mark, expected) => {
    expect(readFileAmount(text, currency, mark)).toBe(expected);
  });

  test('whatever the amount and however it is written, it comes back to the penny', () => {
    fc.assert(
      fc.property(fc.integer({ min: -99_999_999, max: 99_999_999 }), (minor) => {
        const major = (minor / 100).toLocaleString('en-GB', { minimumFractionDigits: 2 });
        expect(readFileAmount(major, 'GBP', 'point')).toBe(minor === 0 ? 0 : minor);
        const comma = major.replace(/[.,]/g, (mark) => (mark === '.' ? ',' : '.'));
        expect(readFileAmount(`${comma} €`, 'EUR', 'comma')).toBe(minor === 0 ? 0 : minor);
      }),
    );
  });
});

test.each([
  [['24/11/2026', '1,234.50'], { dates: 'dmy', numbers: 'point' }],
  [['11/24/2026', '1.234,50'], { dates: 'mdy', numbers: 'comma' }],
  [['01/02/2026', '1,234'], usual],
  [['2026-01-13', 'words'], usual],
  [['31.12.2026', '99,95'], { dates: 'dmy', numbers: 'comma' }],
] as const)('the cells %j say how a file writes', (cells, expected) => {
  expect(guessFormats(cells, usual)).toEqual(expected);
});

describe('what a file holds', () => {
  test.each([
    ['export.csv', ['Deal', 'Contact', 'Stage', 'Amount'], 'deals'],
    ['x.csv', ['Name', 'Company', 'E-mail', 'Phone'], 'people'],
    ['x.csv', ['Name', 'E-mail', 'Note'], 'people'],
    ['companies.csv', ['Company', 'Town'], 'companies'],
    ['people and companies.csv', ['Name', 'Company'], 'people'],
    ['x.csv', ['Company', 'Town'], 'people'],
    ['price list.xlsx', ['Product', 'Price'], 'products'],
    ['x.csv', ['Contract', 'Start date', 'Term', 'Value', 'Company'], 'agreements'],
    ['x.csv', ['Subject', 'Due date', 'Contact'], 'tasks'],
    ['notes.csv', ['Note', 'Contact'], 'notes'],
    ['x.csv', ['Interest', 'E-mail', 'Campaign'], 'leads'],
    ['deals.csv', ['What', 'Who'], 'deals'],
    ['leads.csv', ['Name', 'E-mail', 'Phone'], 'people'],
  ] as const)('%s with %j holds %s', (fileName, names, kind) => {
    expect(guessKind(fileName, names, choices)).toBe(kind);
  });

  test('each column is proposed by its name, each thing once, and one’s own fields too', () => {
    const columns = columnsOf('deals', choices);
    expect(proposeColumns(['Deal name', 'DEAL', 'Betrag', 'boilers', '?'], columns)).toEqual([
      'name',
      null,
      'amount',
      'custom:f1',
      null,
    ]);
    expect(columns.some(({ key }) => key === 'custom:f2')).toBe(false);
  });

  test.each(['companies', 'products', 'leads', 'deals', 'agreements', 'tasks', 'notes'] as const)(
    'no two columns of %s have one key',
    (kind) => {
      const keys = columnsOf(kind, choices).map(({ key }) => key);
      expect(new Set(keys).size).toBe(keys.length);
    },
  );
});

describe('a row', () => {
  const columns = columnsOf('deals', choices);
  const judge = (cells: string[], mapping: (string | null)[]) =>
    judgeRecord(
      { line: 2, cells },
      {
        columns,
        mapping,
        names: mapping.map((key, at) => `column ${at}: ${key}`),
        formats: usual,
        currency: 'GBP',
      },
    );

  test('becomes what its cells say; empty ones say nothing', () => {
    const { draft, problems } = judge(
      ['Softener', '€ 12', 'eur', 'offer', '24/12/2026', '40 %', '3', '', 'x'],
      [
        'name',
        'amount',
        'currency',
        'stage',
        'expectedCloseOn',
        'winProbability',
        'custom:f1',
        'source',
        null,
      ],
    );
    expect(problems).toEqual([]);
    expect(draft).toEqual({
      line: 2,
      values: {
        ...{ name: 'Softener', amount: 1200, currency: 'EUR', stage: 'Sales: Offer' },
        ...{ expectedCloseOn: '2026-12-24', winProbability: 40, 'custom:f1': 3 },
      },
    });
  });

  test.each([
    [['', '5'], ['name', 'amount'], 'column 0: name: is empty'],
    [['A', 'much'], ['name', 'amount'], 'column 1: amount: “much” is not an amount in GBP'],
    [['A', '140'], ['name', 'winProbability'], 'column 1: winProbability: must be from 0 to 100'],
    [
      ['A', 'Elsewhere'],
      ['name', 'stage'],
      'column 1: stage: there is no “Elsewhere”; there are Sales: Offer',
    ],
    [
      ['A', '31/31/2026'],
      ['name', 'expectedCloseOn'],
      'column 1: expectedCloseOn: “31/31/2026” is not a day',
    ],
    [['A', 'not mail'], ['name', 'email'], 'column 1: email: “not mail” is not an e-mail address'],
    [['A', 'ZZZ'], ['name', 'currency'], 'column 1: currency: “ZZZ” is not a currency such as GBP'],
    [['A', '5', 'more'], ['name', 'amount'], 'row: the row has 3 columns, the first line 2'],
    [['A'.repeat(161)], ['name'], 'column 0: name: is longer than 160 letters'],
    [['5'], ['amount'], 'name: is empty'],
  ])('%j as %j says: %s', (cells, mapping, expected) => {
    const said = judge(cells, mapping).problems.map(({ column, reason }) => `${column}: ${reason}`);
    expect(said.join('\n')).toContain(expected);
  });

  test('values are said as they are read', () => {
    const column = (type: ImportColumn['type']) => ({ key: 'k', name: 'n', names: [], type });
    const say = (value: Parameters<typeof sayValue>[0], type: ImportColumn['type']) =>
      sayValue(value, column(type), 'GBP', '2026-11-24');
    expect([
      say(440_050, 'amount'),
      say('2026-12-24', 'date'),
      say(true, 'yes-no'),
      say(['a', 'b'], 'list'),
      say(null, 'text'),
      say(12.5, 'number'),
    ]).toEqual(['£4,400.50', 'Thu 24 Dec', 'yes', 'a, b', '', '12.5']);
  });
});
