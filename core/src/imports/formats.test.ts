import type { CustomField, CustomFieldId } from '@kettle/contract';
import fc from 'fast-check';
import {
  findDelimiter,
  identityKeys,
  judgeContact,
  pickFields,
  proposeMapping,
  readCsv,
  readVCards,
  writeCsv,
} from '.';
import { plain } from './write-csv';

const boilers: CustomField = {
  id: '01900000-0000-7000-8000-000000000001' as CustomFieldId,
  subject: 'contact',
  name: 'Boilers',
  type: 'number',
  choices: [],
  isRetired: false,
  version: 1,
};
const setting = {
  homeCountry: 'GB',
  currency: 'GBP',
  standings: ['New', 'Customer'],
  fields: [boilers],
  owners: ['Imogen Thorne'],
  formats: { dates: 'dmy', numbers: 'point' } as const,
  columnOf: (field: string) => field,
};

describe('delimited text', () => {
  test.each([
    ['a;b\n1;2', ';'],
    ['a\tb\n1\t2', '\t'],
    ['a|b\n1|2', '|'],
    ['a,b\n"1;2",3', ','],
    ['alone\n1', ','],
  ])('the delimiter of %j is %j', (text, delimiter) => {
    expect(findDelimiter(text)).toBe(delimiter);
  });

  test('rows keep the line they start on, also after line breaks inside quotes', () => {
    const { rows } = readCsv('name,note\nAda,"two\nlines"\r\nBram,x\n');
    expect(rows.map((row) => [row.line, row.cells[0]])).toEqual([
      [2, 'Ada'],
      [4, 'Bram'],
    ]);
  });

  test('a quote that is never closed is told with its line, and what came before is kept', () => {
    const { rows, unreadable } = readCsv('a,b\n1,2\n3,"open\n4,5');
    expect(rows).toHaveLength(1);
    expect(unreadable).toEqual([
      { line: 3, reason: 'a quotation mark is opened here and never closed; nothing after it could be read' },
    ]);
  });

  test('a stray quote swallows no other row', () => {
    expect(readCsv('a,b\n5" pipe,2\n3,4').rows.map((row) => row.cells)).toEqual([
      ['5" pipe', '2'],
      ['3', '4'],
    ]);
  });

  test('what is written by the rules is read back the same', () => {
    const cell = fc.string({ unit: fc.constantFrom('a', 'é', '"', ',', ';', '\n', ' ', '1') });
    const quote = (text: string) => `"${text.replaceAll('"', '""')}"`;
    fc.assert(
      fc.property(fc.array(fc.tuple(cell, cell), { minLength: 1, maxLength: 6 }), (rows) => {
        const text = ['x,y', ...rows.map((row) => row.map(quote).join(','))].join('\r\n');
        expect(readCsv(text, ',').rows.map((row) => row.cells)).toEqual(rows);
      }),
    );
  });
});

describe('columns', () => {
  test('are known by the names people give them, each field once', () => {
    expect(proposeMapping(['First Name', 'SURNAME', 'E-mail', 'Company', 'e-mail 1', 'Shoe size'])).toEqual([
      'givenName',
      'familyName',
      'email',
      'company',
      'ignore',
      'ignore',
    ]);
  });

  test('a row gives its cells by field, empty where the row is short', () => {
    expect(pickFields({ line: 2, cells: [' Ada ', 'x'] }, ['givenName', 'ignore', 'email'])).toEqual({
      givenName: 'Ada',
      email: '',
    });
  });
});

describe('judging a row', () => {
  const problemsOf = (raw: Parameters<typeof judgeContact>[0]) => judgeContact(raw, 5, setting).problems;

  test('a good row becomes a draft with its number in E.164', () => {
    const { draft, problems } = judgeContact(
      {
        fullName: 'Ellery, Maud',
        email: ' Maud@Penrow.Example ',
        phone: '01632 960 123',
        country: 'United Kingdom',
        standing: 'customer',
      },
      5,
      setting,
    );
    expect(problems).toEqual([]);
    expect(draft).toMatchObject({
      givenName: 'Maud',
      familyName: 'Ellery',
      email: 'maud@penrow.example',
      phone: '+441632960123',
      country: 'GB',
      standing: 'Customer',
      line: 5,
    });
  });

  test.each([
    ['fullName', 'neither a name nor a company', {}],
    ['email', '“maud@” is not an e-mail address', { fullName: 'Maud', email: 'maud@' }],
    ['phone', '“12” is not a telephone number', { fullName: 'Maud', phone: '12' }],
    [
      'country',
      '“Atlantis” is not a country known here; use its two-letter code',
      { fullName: 'Maud', country: 'Atlantis' },
    ],
    [
      'standing',
      'there is no standing “Friend”; there are New, Customer',
      { fullName: 'Maud', standing: 'Friend' },
    ],
    ['jobTitle', 'longer than its field can hold', { fullName: 'Maud', jobTitle: 'x'.repeat(161) }],
  ])('the column %s is told: %s', (column, reason, raw) => {
    expect(problemsOf(raw)).toContainEqual({ column, reason });
  });

  test.each([
    ['Nederland', 'NL'],
    ['portugal', 'PT'],
    ['ie', 'IE'],
    ['England', 'GB'],
  ])('the country %s is %s', (name, code) => {
    expect(judgeContact({ fullName: 'Maud', country: name }, 1, setting).draft.country).toBe(code);
  });
});

describe('who is the same', () => {
  const person = {
    givenName: 'Maud',
    familyName: 'Ellery',
    company: 'Penrow Laundry Ltd.',
    email: '',
    phone: '',
  };
  test('by mail, by number and name, else by name and firm', () => {
    expect(identityKeys({ ...person, email: 'M@X.example' })).toEqual(['mail:m@x.example']);
    expect(identityKeys({ ...person, phone: '+441632960123' })).toEqual(['phone:+441632960123 maud ellery']);
    expect(identityKeys(person)).toEqual(['name:maud ellery @ penrow laundry']);
    expect(identityKeys({ ...person, company: 'PENROW LAUNDRY' })).toEqual(identityKeys(person));
  });
});

describe('vCards', () => {
  const card = (...lines: string[]) => ['BEGIN:VCARD', ...lines, 'END:VCARD'].join('\r\n');

  test('a broken card is told with its line, and the others are read', () => {
    const { cards, unreadable } = readVCards(`${card('VERSION:3.0', 'FN:Ada')}\r\nBEGIN:VCARD\r\nFN:Cut off`);
    expect(cards.map((each) => each.raw.fullName)).toEqual(['Ada']);
    expect(unreadable).toEqual([{ line: 5, reason: 'the card cannot be read as vCard 2.1, 3.0 or 4.0' }]);
  });

  test('the preferred address goes before the first', () => {
    const [three] = readVCards(
      card('VERSION:3.0', 'FN:A', 'EMAIL:first@a.example', 'EMAIL;TYPE=pref:best@a.example'),
    ).cards;
    const [four] = readVCards(
      card('VERSION:4.0', 'FN:A', 'EMAIL;PREF=9:first@a.example', 'EMAIL;PREF=1:best@a.example'),
    ).cards;
    expect([three!.raw.email, four!.raw.email]).toEqual(['best@a.example', 'best@a.example']);
  });
});

describe('writing delimited text', () => {
  test.each([
    ['=SUM(A1)', "'=SUM(A1)"],
    ['+1+2', "'+1+2"],
    ['@cmd', "'@cmd"],
    ['-2+3', "'-2+3"],
    ['+441632960123', '+441632960123'],
    ['-3.5', '-3.5'],
    ['Skell & Sons', 'Skell & Sons'],
  ])('a cell %s is written as %s', (cell, written) => {
    expect(writeCsv(['a'], [[cell]])).toBe(
      `\ufeffa\r\n${written.includes('"') ? `"${written}"` : written}\r\n`,
    );
  });

  test('what is written is read again as it was', () => {
    // Apostrophes and what a spreadsheet would calculate come often, so that each is met beside the other.
    const cell = fc
      .tuple(fc.stringMatching(/^'{0,2}[=+\-@\t\r]?$/), fc.string({ maxLength: 12 }))
      .map((parts) => parts.join(''));
    fc.assert(
      fc.property(fc.array(fc.tuple(cell, cell), { minLength: 1, maxLength: 8 }), (rows) => {
        const filled = rows.filter((row) => row.some((each) => each.trim() !== ''));
        const { rows: read } = readCsv(writeCsv(['one', 'other'], filled), ',');
        expect(read.map((row) => row.cells.map(plain))).toEqual(filled);
      }),
      { numRuns: 500 },
    );
  });
});

describe('further fields of a file', () => {
  test('a column named like a custom field is mapped to it and read by its type', () => {
    expect(proposeMapping(['Name', 'boilers', 'Tags'], [boilers])).toEqual([
      'fullName',
      `custom:${boilers.id}`,
      'tags',
    ]);
    const raw = {
      fullName: 'Maud Ellery',
      [`custom:${boilers.id}`]: '3',
      tags: 'Steam; audit,steam',
      warmth: 'Hot',
    };
    const { draft, problems } = judgeContact(raw, 2, setting);
    expect(problems).toEqual([]);
    expect(draft).toMatchObject({ custom: { [boilers.id]: 3 }, tags: ['steam', 'audit'], warmth: 'hot' });
  });

  test('a wrong value, warmth or owner is told with its column', () => {
    const raw = {
      fullName: 'Maud Ellery',
      [`custom:${boilers.id}`]: 'some',
      warmth: 'boiling',
      owner: 'Nobody',
    };
    expect(judgeContact(raw, 2, setting).problems.map((problem) => problem.column)).toEqual([
      'warmth',
      'owner',
      `custom:${boilers.id}`,
    ]);
  });
});

describe('tables as programs really write them', () => {
  const columns = (text: string) => {
    const { columns: names, rows, delimiter } = readCsv(text);
    return { names, delimiter, first: rows[0] };
  };

  test('a first line that says the delimiter', () => {
    expect(columns('sep=;\r\nName;E-mail\r\nMaud, Mrs;maud@penrow.example')).toMatchObject({
      names: ['Name', 'E-mail'],
      delimiter: ';',
      first: { line: 3, cells: ['Maud, Mrs', 'maud@penrow.example'] },
    });
  });

  test('titles above the columns are passed over, and lines count as in the file', () => {
    const text =
      'Contacts of the north\n\nexported 24 November 2026,,\nName,Company,E-mail\nMaud,Penrow,m@penrow.example';
    expect(columns(text)).toMatchObject({ names: ['Name', 'Company', 'E-mail'], first: { line: 5 } });
  });

  test('rows of uneven length do not hide the delimiter', () => {
    const text = 'Name;Company;Note\nMaud;Penrow\nTheo;Skell;a, b, c\nInes;Cais;x\nJoost';
    expect(columns(text)).toMatchObject({ names: ['Name', 'Company', 'Note'], delimiter: ';' });
  });

  test('a table of one column is one, whatever stands in it', () => {
    expect(columns('E-mail\nmaud@penrow.example\ntheo@skell.example').names).toEqual(['E-mail']);
  });

  test.each([
    ['German', ['Vorname', 'Nachname', 'Firma', 'Telefon', 'PLZ']],
    ['Dutch', ['Voornaam', 'Achternaam', 'Bedrijf', 'Telefoon', 'Postcode']],
    ['French', ['Prénom', 'Nom', 'Entreprise', 'Portable', 'Code postal']],
    ['Spanish', ['Nombre', 'Apellidos', 'Empresa', 'Móvil', 'Código postal']],
    ['Portuguese', ['Nome próprio', 'Apelido', 'Empresa', 'Telemóvel', 'Código postal']],
    ['Italian', ['Nome di battesimo', 'Cognome', 'Azienda', 'Cellulare', 'CAP']],
    ['Swedish', ['Förnamn', 'Efternamn', 'Företag', 'Mobil', 'Postnummer']],
    ['Polish', ['Imię', 'Nazwisko', 'Nazwa firmy', 'Komórka', 'Kod pocztowy']],
  ])('columns named in %s are known', (_, names) => {
    expect(proposeMapping(names)).toEqual(['givenName', 'familyName', 'company', 'phone', 'postcode']);
  });
});

describe('cards as programs really write them', () => {
  const card = (...lines: string[]) => readVCards(['BEGIN:VCARD', ...lines, 'END:VCARD'].join('\r\n'));

  test('version 2.1 with quoted-printable that goes on in the next line', () => {
    const { cards } = card(
      'VERSION:2.1',
      'N;CHARSET=UTF-8;ENCODING=QUOTED-PRINTABLE:M=C3=BCller;J=C3=BCrgen',
      'ORG;CHARSET=UTF-8;ENCODING=QUOTED-PRINTABLE:B=C3=A4ckerei M=C3=BCl=',
      'ler GmbH',
      'TEL;WORK;FAX:+49 30 23125102',
      'TEL;CELL:+49 171 3920001',
      'EMAIL;INTERNET;PREF:j.mueller@mueller.example',
    );
    expect(cards[0]!.raw).toMatchObject({
      givenName: 'Jürgen',
      familyName: 'Müller',
      company: 'Bäckerei Müller GmbH',
      phone: '+49 171 3920001',
      email: 'j.mueller@mueller.example',
    });
  });

  test('groups, a picture over many lines, and a fax before the telephone', () => {
    const { cards } = card(
      'VERSION:3.0',
      'N:Penrow;Maud;;;',
      'FN:Maud Penrow',
      'item1.EMAIL;TYPE=INTERNET:maud@penrow.example',
      'item1.X-ABLabel:work',
      'TEL;TYPE=WORK,FAX:+44 1632 960105',
      'item2.TEL;TYPE=CELL:+44 7700 900101',
      `PHOTO;ENCODING=b;TYPE=JPEG:${'A'.repeat(70)}`,
      ` ${'B'.repeat(74)}`,
      ` ${'C'.repeat(74)}`,
    );
    expect(cards[0]!.raw).toMatchObject({
      email: 'maud@penrow.example',
      phone: '+44 7700 900101',
      familyName: 'Penrow',
    });
  });

  test.each([
    ['KIND:org', 'VERSION:4.0'],
    ['X-ABShowAs:COMPANY', 'VERSION:3.0'],
  ])('a card of a company, %s', (kind, version) => {
    const { cards } = card(
      version,
      kind,
      'FN:Penrow Bakery',
      'ORG:Penrow Bakery',
      'N:;;;;',
      'TEL:+44 1632 960101',
    );
    expect(cards[0]!.raw).toMatchObject({ company: 'Penrow Bakery', fullName: '' });
  });
});
