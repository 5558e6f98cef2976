import type { ContactId } from '@kettle/contract';
import { defaultOutcomes } from '../touch';
import { readJot } from '.';

const known = [
  {
    id: 'maud' as ContactId,
    givenName: 'Maud',
    familyName: 'Ellery',
    companyName: 'Penrow Laundry',
    isMine: true,
  },
  { id: 'nora' as ContactId, givenName: 'Nora', familyName: 'Quayle', companyName: null, isMine: true },
];
const read = (line: string) =>
  readJot(line, {
    now: '2026-11-24T09:10:00.000Z',
    zone: 'Europe/London',
    known,
    outcomes: defaultOutcomes,
    about: known[0]!,
    answers: {},
  });

test('a lead in one line: who, of which firm, how they are reached, what they want, what is next', () => {
  expect(
    read('lead: Nora Pell of Pell Spa, nora@pell.example, 01632 960 777, wants a softener, call tomorrow'),
  ).toMatchObject({
    act: 'lead',
    person: null,
    unknownName: 'Nora Pell',
    lead: {
      subject: 'a softener',
      companyName: 'Pell Spa',
      email: 'nora@pell.example',
      phone: '+441632960777',
    },
    task: { channel: 'call', on: '2026-11-25' },
    questions: [],
  });
});

test.each([
  [
    'inquiry from Maud Ellery, boiler water',
    { person: { id: 'maud' }, unknownName: null, lead: { subject: 'boiler water' } },
  ],
  ['New lead Nora Pell', { person: null, unknownName: 'Nora Pell', lead: { subject: 'inquiry' } }],
  ['lead', { act: 'nothing' }],
  ['Lead pipes are asked about by Maud Ellery', { act: 'lead' }],
  ['spoke to Maud Ellery about the lead', { act: 'log', lead: null }],
])('%s', (line, expected) => {
  expect(read(line)).toMatchObject(expected);
});
