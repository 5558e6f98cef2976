/**
 * Outside checks. CSV: the files of csv-spectrum (open test data for RFC 4180 readers; its location_coordinates file is
 * left out, because the JSON beside it contradicts it). vCard: the author's card of RFC 6350 section 8 and the examples of
 * RFC 2426 sections 3.1.2 and 7, typed from memory and shortened. Telephone: RFC 3966 section 6 examples.
 */
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { readPhone } from '../phone';
import { readCsv, readVCards } from '.';

const spectrum = path.join(path.dirname(require.resolve('csv-spectrum/package.json')));

describe('csv-spectrum', () => {
  test.each([
    'comma_in_quotes',
    'empty',
    'empty_crlf',
    'escaped_quotes',
    'json',
    'newlines',
    'newlines_crlf',
    'quotes_and_newlines',
    'simple',
    'simple_crlf',
    'utf8',
  ])('%s', (name) => {
    const text = readFileSync(path.join(spectrum, 'csvs', `${name}.csv`), 'utf8');
    const expected = JSON.parse(readFileSync(path.join(spectrum, 'json', `${name}.json`), 'utf8')) as Record<
      string,
      string
    >[];
    const { columns, rows } = readCsv(text, ',');
    const ours = rows.map((row) =>
      Object.fromEntries(columns.map((column, index) => [column, row.cells[index]])),
    );
    const oneBreak = (value: unknown) =>
      JSON.parse(JSON.stringify(value).replaceAll('\\r\\n', '\\n')) as unknown;
    expect(oneBreak(ours)).toEqual(oneBreak(expected));
  });
});

test('RFC 6350 section 8: the author’s card, vCard 4.0', () => {
  const text = [
    'BEGIN:VCARD',
    'VERSION:4.0',
    'FN:Simon Perreault',
    'N:Perreault;Simon;;;ing. jr,M.Sc.',
    'ORG;TYPE=work:Viagenie',
    'ADR;TYPE=work:;Suite D2-630;2875 Laurier;',
    ' Quebec;QC;G1V 2M2;Canada',
    'TEL;VALUE=uri;TYPE="work,voice";PREF=1:tel:+1-418-656-9254;ext=102',
    'TEL;VALUE=uri;TYPE="work,cell,voice,video,text":tel:+1-418-262-6501',
    'EMAIL;TYPE=work:simon.perreault@viagenie.ca',
    'URL;TYPE=home:http://nomis80.org',
    'END:VCARD',
  ].join('\r\n');
  expect(readVCards(text).cards[0]!.raw).toMatchObject({
    givenName: 'Simon',
    familyName: 'Perreault',
    company: 'Viagenie',
    street: '2875 Laurier',
    city: 'Quebec',
    postcode: 'G1V 2M2',
    country: 'Canada',
    phone: '+1-418-656-9254',
    email: 'simon.perreault@viagenie.ca',
  });
});

test('RFC 2426: structured names and escaped commas, vCard 3.0', () => {
  const text =
    'BEGIN:VCARD\r\nVERSION:3.0\r\nN:Stevenson;John;Philip,Paul;Dr.;Jr.,M.D.,A.C.P.\r\nORG:ABC\\, Inc.;North American Division;Marketing\r\nFN:Dr. John Stevenson\r\nEND:VCARD';
  expect(readVCards(text).cards[0]!.raw).toMatchObject({
    givenName: 'John',
    familyName: 'Stevenson',
    company: 'ABC, Inc.',
  });
});

test('RFC 3966 section 6: visual separators do not count', () => {
  expect(readPhone('tel:+1-201-555-0123', 'GB')?.e164).toBe('+12015550123');
  expect(readPhone('+1 (201) 555.0123', 'GB')?.e164).toBe('+12015550123');
});
